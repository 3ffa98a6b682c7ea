import katex, { type KatexOptions } from 'katex'

/**
 * TeX may come from outside: sizes and expansions have limits, so that it can neither cover the page nor loop, and commands with
 * effects outside of the formula, such as links, are not executed.
 */
const OPTIONS = {
  maxSize: 20,
  maxExpand: 200,
  throwOnError: false,
  strict: false,
  trust: false,
} satisfies KatexOptions

/** Typesets TeX into an element, with MathML for screen readers. */
export function typeset(tex: string, element: HTMLElement, displayMode = false): void {
  try {
    katex.render(tex || '\\;', element, { ...OPTIONS, displayMode, output: 'htmlAndMathml' })
  } catch {
    // KaTeX throws all the same where an expansion does not end.
    element.textContent = tex
  }
}

/** Returns the MathML of an equation; null if there is none, as for TeX that expands without end. */
export function mathML(tex: string, displayMode: boolean): string | null {
  const html = katex.renderToString(tex, { ...OPTIONS, displayMode, output: 'mathml' })
  const [start, end] = [html.indexOf('<math'), html.lastIndexOf('</math>')]
  return start < 0 ? null : html.slice(start, end + '</math>'.length)
}
