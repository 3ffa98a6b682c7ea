import DOMPurify from 'dompurify'

/**
 * Returns a drawing without anything that runs or loads, since it may come from outside; null if there is none. It has a view
 * box, so that it scales with its place, and its text with it.
 */
export function cleanSvg(svg: string): SVGElement | null {
  const drawn = DOMPurify.sanitize(svg, {
    USE_PROFILES: { svg: true },
    FORBID_TAGS: ['image', 'a', 'style', 'foreignObject'],
    RETURN_DOM_FRAGMENT: true,
  }).querySelector('svg')
  return drawn && scalable(drawn)
}

/** Returns a drawing that this page has just made, as `cleanSvg` does, which takes several times as long. */
export function ownSvg(svg: string): SVGElement | null {
  const template = document.createElement('template')
  template.innerHTML = svg
  const drawn = template.content.querySelector('svg')
  return drawn && scalable(drawn)
}

/** Gives a drawing a view box, by which it scales with its place, and its texts their fonts. Returns the drawing. */
export function scalable(drawn: SVGElement): SVGElement {
  drawn.setAttribute('aria-hidden', 'true')
  const size = ['width', 'height'].map((side) => Number.parseFloat(drawn.getAttribute(side) ?? ''))
  if (size.every((length) => length > 0)) drawn.setAttribute('viewBox', `0 0 ${size.join(' ')}`)
  for (const text of drawn.querySelectorAll('text')) keepFont(text)
  return drawn
}

const FONT = ['font-family', 'font-size', 'font-style', 'font-weight']

/** Makes the font of a text its style: the page's own styles, which say that all text inherits its font, outweigh attributes. */
function keepFont(text: SVGTextElement): void {
  for (const property of FONT) {
    const value = text.getAttribute(property) ?? text.parentElement?.getAttribute(property)
    if (value) text.style.setProperty(property, value)
  }
}
