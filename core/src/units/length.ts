/** Metres per unit of length that people type or choose. */
const METRES = { mm: 0.001, cm: 0.01, m: 1, km: 1000, in: 0.0254, ft: 0.3048, yd: 0.9144 }

/** A unit in which lengths can be typed and shown. */
export type LengthName = keyof typeof METRES
export const LENGTH_NAMES = Object.keys(METRES) as LengthName[]

/** Metres in one of a unit. */
export function metresIn(unit: LengthName): number {
  return METRES[unit]
}

/** A length that was typed, understood in metres. */
export interface ParsedLength {
  metres: number
  /** Standard error in metres; 0 where none was typed. */
  error: number
  /** The unit that it was understood in. */
  unit: LengthName
}

const NUMBER = String.raw`\d+(?:[.,]\d*)?(?:e[+-]?\d+)?|[.,]\d+(?:e[+-]?\d+)?`
const UNIT: Record<string, LengthName> = {
  mm: 'mm',
  cm: 'cm',
  m: 'm',
  km: 'km',
  in: 'in',
  inch: 'in',
  inches: 'in',
  '"': 'in',
  '″': 'in',
  '”': 'in',
  ft: 'ft',
  foot: 'ft',
  feet: 'ft',
  "'": 'ft',
  '′': 'ft',
  '’': 'ft',
  yd: 'yd',
  yard: 'yd',
  yards: 'yd',
  metre: 'm',
  metres: 'm',
  meter: 'm',
  meters: 'm',
}
const UNITS = Object.keys(UNIT)
  .sort((a, b) => b.length - a.length)
  .join('|')
const ERROR = String.raw`(?:\s*(?:±|\+\s*/?\s*-)\s*(?<error>${NUMBER})\s*(?<errorUnit>${UNITS}|%)?)?`
/** A number with an error and a unit in either order: "1.40 ± 0.01 m", "1.40 m ± 1 cm", "1.4 m ± 0.5 %". */
const PLAIN = new RegExp(
  `^\\+?(?<value>${NUMBER})\\s*(?<unit>${UNITS})?${ERROR}\\s*(?<unitAfter>${UNITS})?$`,
  'i',
)
/** Feet and inches: "4 ft 9 in", "4'9\"", "4 ft 9". */
const FEET = new RegExp(
  `^\\+?(?<feet>\\d+)\\s*(?:ft|feet|foot|'|′|’)\\s*(?<inches>${NUMBER})\\s*(?:in|inch|inches|"|″|”|'')?${ERROR}$`,
  'i',
)

const decimal = (digits: string) => Number(digits.replace(',', '.'))

/**
 * Understands a typed length such as "1.40 m", "140 cm", "1,4m", "4 ft 9 in", "4'9\"", or with its standard
 * error "1.400 ± 0.005 m", "1.4 m ± 0.5 %". Gives null for anything else, and for lengths that are not
 * greater than 0.
 *
 * @param assumed the unit where none is typed
 */
export function parseLength(text: string, assumed: LengthName = 'm'): ParsedLength | null {
  const typed = text.trim()
  const feet = FEET.exec(typed)?.groups
  if (feet) {
    const metres = Number(feet.feet) * METRES.ft + decimal(feet.inches) * METRES.in
    return understood(metres, feet.error, feet.errorUnit, 'ft', 'in')
  }
  const plain = PLAIN.exec(typed)?.groups
  if (!plain || (plain.unit && plain.unitAfter)) return null
  // In "140 ± 0.5 cm" the unit behind the error is the length's, too.
  const unit = UNIT[(plain.unit ?? plain.unitAfter ?? plain.errorUnit)?.toLowerCase()] ?? assumed
  return understood(decimal(plain.value) * METRES[unit], plain.error, plain.errorUnit, unit, unit)
}

function understood(
  metres: number,
  error: string | undefined,
  errorUnit: string | undefined,
  unit: LengthName,
  assumed: LengthName,
): ParsedLength | null {
  if (!(metres > 0) || !Number.isFinite(metres)) return null
  const size = error ? decimal(error) : 0
  const metresEach =
    errorUnit === '%' ? metres / 100 : METRES[UNIT[errorUnit?.toLowerCase() ?? ''] ?? assumed]
  const standardError = size * metresEach
  return Number.isFinite(standardError) ? { metres, error: standardError, unit } : null
}

/** A length that was typed as it is, or as a range. */
export interface ParsedRange {
  metres: [number, number]
}

/**
 * Understands a length or a range of lengths such as "2.7 m", "2.6 to 2.8 m", "260–280 cm". Gives null for
 * anything else; the range is in order, whichever way it was typed.
 */
export function parseLengthRange(text: string, assumed: LengthName = 'm'): ParsedRange | null {
  const parts = text.split(/\s*(?:–|—|…|\bto\b|(?<=[\d\s\w])-(?=[\s\d]))\s*/)
  if (parts.length > 2) return null
  const last = parseLength(parts[parts.length - 1], assumed)
  const first = parts.length === 2 ? parseLength(parts[0], last?.unit) : last
  if (!first || !last) return null
  return { metres: [Math.min(first.metres, last.metres), Math.max(first.metres, last.metres)] }
}
