const MINUS = '−'
/** A unit stays in the line of its number. */
const NO_BREAK_SPACE = '\u00a0'
const SUPERSCRIPTS = '⁰¹²³⁴⁵⁶⁷⁸⁹'

/** Returns a number with a fixed count of decimals and a true minus sign; never "−0". */
export function fixed(value: number, decimals: number): string {
  const text = value.toFixed(Math.min(20, Math.max(0, decimals)))
  return Number(text) === 0 ? text.replace('-', '') : text.replace('-', MINUS)
}

/** Returns a number with a count of significant digits and a true minus sign, in powers of ten where long. */
export function significant(value: number, digits: number): string {
  if (!Number.isFinite(value)) return '–'
  if (value === 0) return '0'
  const [mantissa, exponent] = value.toExponential(digits - 1).split('e')
  const power = Number(exponent)
  if (power >= -4 && power < 6) return fixed(Number(`${mantissa}e${power}`), digits - 1 - power)
  return `${mantissa.replace('-', MINUS)}${NO_BREAK_SPACE}×${NO_BREAK_SPACE}10${superscript(power)}`
}

/** Returns a whole number in raised digits. */
function superscript(power: number): string {
  const raised = [...String(Math.abs(power))].map((digit) => SUPERSCRIPTS[Number(digit)]).join('')
  return power < 0 ? `⁻${raised}` : raised
}

/** Returns a number and its unit with a no-break space between them. */
export function withUnit(number: string, unit: string): string {
  return unit ? `${number}${NO_BREAK_SPACE}${unit}` : number
}

/**
 * Value ± standard error, both rounded to the error's two significant digits: "−9.783 ± 0.054 m/s²".
 * Without an error (0, or unknown) the value stands alone with four significant digits.
 */
export function measurement(value: number, error: number, unit: string): string {
  if (!Number.isFinite(value)) return '–'
  if (!(error > 0) || !Number.isFinite(error)) return withUnit(significant(value, 4), unit)
  const power = Math.floor(Math.log10(Number(error.toPrecision(2))))
  const size = Math.floor(Math.log10(Math.max(Math.abs(value), error)))
  if (size >= 6 || size < -4) {
    const decimals = Math.max(0, size - power + 1)
    const scaled = (number: number) => fixed(number / 10 ** size, decimals)
    const ten = `${NO_BREAK_SPACE}×${NO_BREAK_SPACE}10${superscript(size)}`
    return withUnit(`(${scaled(value)} ± ${scaled(error)})${ten}`, unit)
  }
  return withUnit(`${rounded(value, error)} ± ${rounded(error, error)}`, unit)
}

/** Returns a value alone, rounded to two digits of its standard error; to four significant ones where that is unknown. */
export function rounded(value: number, error: number): string {
  if (!Number.isFinite(value)) return '–'
  if (!(error > 0) || !Number.isFinite(error)) return significant(value, 4)
  // Rounding to two digits first, so that 0.0996 counts as 0.10 and not as 0.100.
  const decimals = 1 - Math.floor(Math.log10(Number(error.toPrecision(2))))
  const step = 10 ** -decimals
  return decimals >= 0 ? fixed(value, decimals) : fixed(Math.round(value / step) * step, 0)
}

/** Returns an angle in radians as degrees with one decimal. */
export function degrees(angle: number, decimals = 1): string {
  return `${fixed((angle * 180) / Math.PI, decimals)}°`
}

/** Returns an angle and its standard error in radians as degrees: "12.31 ± 0.14°"; without an error (0) with one decimal. */
export function angleMeasurement(angle: number, error: number): string {
  if (!(error > 0)) return degrees(angle)
  const [value, deviation] = [angle, error].map((radians) => (radians * 180) / Math.PI)
  return `${rounded(value, deviation)} ± ${rounded(deviation, deviation)}°`
}
