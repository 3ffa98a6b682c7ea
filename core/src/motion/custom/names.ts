import { type Investigation, inOrder } from '../../investigation/index.ts'
import type { InvestigationScene } from '../../scene/index.ts'
import { probeReading } from '../../scene/index.ts'
import { type Dimension, parseUnit } from '../../units/index.ts'
import { QUANTITIES } from '../quantities/index.ts'

/** A number that is the same in every frame, by the name under which it stands in expressions. */
export interface KnownNumber {
  name: string
  /** What it is, for the list of names. */
  what: string
  value: number
  error: number
  dimension: Dimension
  unit: string
}

const PURE: Dimension = { mass: 0, length: 0, time: 0, angle: 0 }
/** A letter, and then letters, digits and low lines. */
const NAME = /^\p{L}[\p{L}\p{N}_]*$/u
const TAKEN = ['t', 'm', 'g', 'pi', 'e', 'i']

/** Why something can't be called so in expressions; `names.ts` in `words` has the sentences. */
export type NameProblem = { code: 'characters' } | { code: 'taken'; name: string }

/** Returns why something can't be called so in expressions; null where it can. */
export function nameProblem(name: string): NameProblem | null {
  if (!NAME.test(name)) return { code: 'characters' }
  return TAKEN.includes(name) || name in QUANTITIES ? { code: 'taken', name } : null
}

/** Returns a name as it can stand in an expression: "tide staff" becomes "tide_staff". */
export function asName(words: string): string {
  return words
    .trim()
    .replace(/[^\p{L}\p{N}]+/gu, '_')
    .replace(/^_+|_+$/g, '')
}

/** Numbers of an investigation that expressions can use: its constants, its references and its probes. */
export function knownNumbers(investigation: Investigation, scene: InvestigationScene): KnownNumber[] {
  const constants = inOrder(investigation.constants).map(([, { name, value, error, unit }]): KnownNumber => {
    const parsed = parseUnit(unit) ?? { dimension: PURE, factor: 1 }
    const { dimension, factor } = parsed
    return { name, what: 'a constant', value: factor * value, error: factor * error, dimension, unit }
  })
  const references = inOrder(investigation.references).flatMap(([, { name, length, lengthError }]) =>
    length === null
      ? []
      : [
          {
            name: asName(name),
            what: 'a reference length',
            value: length,
            error: lengthError,
            dimension: { ...PURE, length: 1 },
            unit: 'm',
          },
        ],
  )
  const probes = inOrder(investigation.probes).flatMap(([, probe]) => {
    const reading = probeReading(scene, probe)
    if (!reading) return []
    const dimension = reading.unit === 'rad' ? { ...PURE, angle: 1 } : { ...PURE, length: 1 }
    return [{ name: asName(probe.name), what: 'a probe', ...reading, dimension }]
  })
  return [...constants, ...references, ...probes].filter(({ name }) => nameProblem(name) === null)
}
