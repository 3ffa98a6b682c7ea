import type { Investigation } from '../investigation/index.ts'
import type { DataTable } from '../motion/index.ts'

/** Version of the form in which motion tables are written as JSON. */
const TABLE_JSON_VERSION = 1

const plain = (values: Float64Array) => Array.from(values, (value) => (Number.isFinite(value) ? value : null))

/**
 * Returns a data table with its units and errors as JSON: see docs/formats.md and its schema.
 *
 * @param derivation how velocities and accelerations were derived, for a person
 */
export function tableJson(investigation: Investigation, table: DataTable, derivation: string): string {
  const { bodies, title } = investigation
  const document = {
    format: 'apokinema-motion-table',
    version: TABLE_JSON_VERSION,
    title,
    derivation,
    interpolated: table.isInterpolated,
    frames: table.isInterpolated ? null : table.frames,
    time: { unit: 's', values: table.times },
    columns: table.columns.map(({ body, id, name, symbol, subscript, unit, values, errors }) => ({
      body: { id: body, name: bodies[body]?.name ?? '' },
      quantity: id,
      name,
      symbol: symbol + (subscript && `_${subscript}`),
      unit,
      values: plain(values),
      errors: plain(errors),
    })),
  }
  return `${JSON.stringify(document, null, 1)}\n`
}
