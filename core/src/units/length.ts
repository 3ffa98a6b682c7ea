/** Metres per unit of length that people type or choose. */
const METRES: Record<string, number> = {
  mm: 0.001,
  cm: 0.01,
  m: 1,
  km: 1000,
  in: 0.0254,
  ft: 0.3048,
  yd: 0.9144,
}

/** A length that was typed, understood in metres. */
export interface ParsedLength {
  metres: number
  /** Standard error in metres; 0 where none was typed. */
  error: number
}

const PATTERN =
  /^([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+))(?:\s*(?:±|\+\/?-)\s*(\d+(?:[.,]\d*)?|[.,]\d+))?\s*(mm|cm|m|km|in|ft|yd)?$/i

/**
 * Understands a typed length such as "1.40 m", "140 cm", "1,4m" or "1.400 ± 0.005 m"; without a unit
 * it is in metres. Gives null for anything else, and for lengths that are not greater than 0.
 */
export function parseLength(text: string): ParsedLength | null {
  const match = PATTERN.exec(text.trim())
  if (!match) return null
  const [, value, error, unit] = match
  const metres = METRES[unit?.toLowerCase() ?? 'm']
  const decimal = (digits: string) => Number(digits.replace(',', '.'))
  const length = decimal(value) * metres
  if (!(length > 0) || !Number.isFinite(length)) return null
  return { metres: length, error: error ? decimal(error) * metres : 0 }
}
