import { analyse } from '../analysis/index.ts'
import { relativeScaleError } from '../geometry/index.ts'
import { axesOf, type Investigation, inOrder } from '../investigation/index.ts'
import { type DataTable, DERIVATIVES } from '../motion/index.ts'
import { clockOf } from '../scene/index.ts'
import { angleMeasurement, measurement } from '../units/index.ts'
import { hasErrors, headOf } from './csv.ts'

/** A cell of a spreadsheet: numbers stay numbers, and texts are no formulas whatever they begin with. */
export type Cell = number | string | null

/** A sheet of a workbook. */
export interface Sheet {
  name: string
  rows: Cell[][]
}

const number = (value: number): Cell => (Number.isFinite(value) ? value : null)

/**
 * Returns a data table as a workbook: a sheet of numbers with their standard errors, and one that says how they were
 * calibrated, timed and derived, and what was fitted.
 *
 * @param fits a line of words each
 */
export function sheets(investigation: Investigation, table: DataTable, fits: string[]): Sheet[] {
  const { bodies } = investigation
  const isOne = new Set(table.columns.map(({ body }) => body)).size < 2
  const columns = table.columns.map((column) => ({ column, withErrors: hasErrors(column) }))
  const heads = columns.flatMap(({ column, withErrors }) => {
    const head = headOf(column, isOne ? null : (bodies[column.body]?.name ?? ''))
    return withErrors ? [head, `± (${column.unit})`] : [head]
  })
  const rows = table.frames.map((frame, row) => [
    table.isInterpolated ? null : frame,
    number(table.times[row]),
    ...columns.flatMap(({ column, withErrors }) =>
      withErrors ? [number(column.values[row]), number(column.errors[row])] : [number(column.values[row])],
    ),
  ])
  return [
    { name: 'Motion', rows: [['frame', 't (s)', ...heads], ...rows] },
    {
      name: 'How it was measured',
      rows: [...described(investigation), ...fits.map((line) => ['fit', line])],
    },
  ]
}

/** Returns how an investigation was calibrated, timed and derived, as names and values. */
export function described(investigation: Investigation): [string, string][] {
  const { title, footage, span, references, derivation, bodies, freeFall, mainAxes } = investigation
  const { scale, length } = analyse(investigation).scene()
  const { name, tilt, tiltError } = axesOf(investigation, mainAxes)
  const clock = clockOf(investigation)
  return [
    ['title', title],
    ['footage', footage ? `${footage.name}, ${footage.width} × ${footage.height} px` : 'none'],
    ['frames', `${span.first} to ${span.last}, every ${span.every}`],
    ['frame rate', clock ? `${Number(clock.rate.toPrecision(6))} /s in real time` : 'unknown'],
    [
      'scale',
      scale
        ? `${measurement(1 / scale.metresPerPixel, relativeScaleError(scale) / scale.metresPerPixel, 'px/m')}`
        : 'none: lengths are in pixels',
    ],
    ...inOrder(references).map(([, reference]): [string, string] => [
      'reference length',
      reference.length === null
        ? `${reference.name}: not known yet`
        : `${reference.name}: ${measurement(reference.length, reference.lengthError, 'm')}`,
    ]),
    ['axes', `${name}, x turned by ${angleMeasurement(tilt, tiltError)} from the picture’s right towards up`],
    ['unit of length', length],
    ['derivatives', DERIVATIVES[derivation.method].explain(derivation)],
    ['g', measurement(freeFall.value, freeFall.error, 'm/s²')],
    ...inOrder(bodies).map(([, body]): [string, string] => [
      'body',
      `${body.name}: ${Object.keys(body.marks).length} marks${body.mass ? `, ${measurement(body.mass.value, body.mass.error, 'kg')}` : ''}`,
    ]),
  ]
}
