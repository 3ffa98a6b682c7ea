import { analyse } from '@apokinema/core/analysis'
import { lowered } from '@apokinema/core/graphs'
import { bodyNames, type Investigation, inOrder } from '@apokinema/core/investigation'
import { graphAlternative } from './alternativeText.ts'
import { digestOf } from './digest.ts'
import { type Content, missing, type Shown } from './shown.ts'

/** Shows a graph of the investigation. */
export function graphFigure(document: Investigation, label: string, block: Content<'graph'>): Shown {
  const graph = document.graphs[block.graph]
  const description = graph && analyse(document).graph(graph)
  if (!description) return missing('graph')
  const fits = block.fits ? analyse(document).fits(block.graph) : []
  const names = bodyNames(document.bodies)
  const nameOf = (body: string) => names[body] ?? ''
  const written = graphAlternative(description, fits, nameOf)
  const models = fits.flatMap(({ fit, settings }) => (fit ? [lowered(settings.name || fit.name)] : []))
  const whose = [...new Set(description.series.map(({ body }) => nameOf(body)))].join(' and ')
  const caption = `${description.title}${description.isTime ? ' against time' : ''}, ${whose}${models.length > 0 ? `, with the fit: ${models.join('; ')}` : ''}.`
  const { ratio, title, errorBars, rangeX, rangeY } = block
  return {
    kind: 'figure',
    picture: { of: 'graph', graph: block.graph, ratio, title, fits: block.fits, errorBars, rangeX, rangeY },
    width: block.width,
    label: label,
    caption: block.caption ?? caption,
    alternative: block.alternative ?? written,
    digest: digestOf([
      description.series.map(({ points }) => points.map(({ x, y, errorY }) => [x, y, errorY])),
      fits.map(({ all }) =>
        all.map(({ parameters }) => parameters.map(({ value, error }) => [value, error])),
      ),
    ]),
  }
}

/** Shows the picture of a frame. */
export function frameFigure(document: Investigation, label: string, block: Content<'frame'>): Shown {
  const { footage, bodies, references, axes, hidden, camera } = document
  if (!footage) return missing('picture')
  const marked = inOrder(bodies).flatMap(([, { name, marks }]) => {
    const mark = marks[block.frame]
    return mark ? [{ name, x: mark.x, y: mark.y }] : []
  })
  const names = marked.map(({ name }) => name).join(' and ')
  const written = `Frame ${block.frame} of the clip${names ? `, with the mark of ${names}` : ''}.`
  return {
    kind: 'figure',
    picture: { of: 'frame', frame: block.frame },
    width: block.width,
    label: label,
    caption: block.caption ?? written,
    alternative: block.alternative ?? written,
    digest: digestOf([footage.id, block.frame, marked, references, axes, hidden, camera]),
  }
}

/** Shows all marked positions in one still. */
export function chronophotographFigure(
  document: Investigation,
  label: string,
  block: Content<'chronophotograph'>,
): Shown {
  const { footage, bodies } = document
  const marked = inOrder(bodies).filter(([, { marks }]) => Object.keys(marks).length > 0)
  if (!footage || marked.length === 0) return missing('picture')
  const names = marked.map(([, { name }]) => name).join(' and ')
  const which = block.every === 1 ? 'all marks' : `one in ${block.every} marks`
  const arrows = block.arrows === 'none' ? '' : `, with the ${block.arrows} as arrows`
  const written = `Positions of ${names} at ${which} in one still${arrows}.`
  const { every, arrows: kind, grid } = block
  return {
    kind: 'figure',
    picture: { of: 'chronophotograph', every, arrows: kind, grid },
    width: block.width,
    label: label,
    caption: block.caption ?? written,
    alternative: block.alternative ?? written,
    digest: digestOf([footage.id, every, kind, grid, marked.map(([, { marks }]) => marks)]),
  }
}

/** Shows a picture from a file. */
export function imageFigure(
  label: string,
  { data, name, width, caption, alternative }: Content<'image'>,
): Shown {
  const written = name.replace(/\.[a-z]{1,5}$/i, '')
  return {
    kind: 'figure',
    picture: { of: 'photo', data },
    width,
    label: label,
    caption: caption ?? written,
    alternative: alternative ?? written,
    // Its end is enough: two compressed pictures of one length differ there, too.
    digest: digestOf([data.length, data.slice(-1000)]),
  }
}
