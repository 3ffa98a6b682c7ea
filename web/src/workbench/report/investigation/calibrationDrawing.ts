import { analyse } from '@apokinema/core/analysis'
import { midpoint, type Point } from '@apokinema/core/geometry'
import { axesOf, type Investigation, inOrder } from '@apokinema/core/investigation'
import { placeIn } from '@apokinema/core/scene'
import { LIGHT_PALETTE } from '../../../theme/palettes.ts'
import { lengthText } from '../../lengths.ts'
import { axesIn } from '../../measure/hitTest.ts'
import { arrow, lines, words } from '../../strokes.ts'

const LOOK = { width: 1.6, colour: LIGHT_PALETTE.petrol }
/** Half the length of the strokes at the ends of a reference, in units of the context. */
const TICK = 6

/**
 * Draws the reference lengths with their values, and the main axes, as they lie in a frame's picture.
 *
 * @param scale pixels of the picture per unit of the context
 */
export function drawCalibration(
  context: CanvasRenderingContext2D,
  investigation: Investigation,
  frame: number,
  scale: number,
): void {
  const { references, hidden, lengthUnit } = investigation
  const scene = analyse(investigation).scene()
  const placed = ({ x, y }: Point): Point => ({ x: x / scale, y: y / scale })
  if (!hidden.scale)
    for (const [, { ends, length }] of inOrder(references)) {
      const [from, to] = ends.map((end) => placeIn(scene, end, frame))
      if (from && to && length !== null)
        drawReference(context, placed(from), placed(to), lengthText(length, lengthUnit))
    }
  const axes = hidden.axes || !axesOf(investigation).placed ? null : axesIn(investigation, frame)
  if (axes) {
    const origin = placed(axes.origin)
    for (const [name, end] of [
      ['x', placed(axes.handle)],
      ['y', placed(axes.up)],
    ] as const) {
      const by = { x: end.x - origin.x, y: end.y - origin.y }
      arrow(context, origin, by, LOOK)
      words(context, { x: origin.x + 1.1 * by.x - 4, y: origin.y + 1.1 * by.y }, name)
    }
  }
}

function drawReference(context: CanvasRenderingContext2D, from: Point, to: Point, text: string): void {
  const length = Math.hypot(to.x - from.x, to.y - from.y)
  if (length === 0) return
  const normal = { x: (TICK * (to.y - from.y)) / length, y: (-TICK * (to.x - from.x)) / length }
  const tick = ({ x, y }: Point) => [
    { x: x - normal.x, y: y - normal.y },
    { x: x + normal.x, y: y + normal.y },
  ]
  lines(context, [[from, to], tick(from), tick(to)], LOOK)
  const middle = midpoint(from, to)
  words(context, { x: middle.x + Math.abs(normal.x) + 4, y: middle.y + Math.abs(normal.y) + 4 }, text)
}
