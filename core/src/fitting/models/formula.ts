/** Letters that TeX knows by name. */
const NAMES: Record<string, string> = {
  α: '\\alpha',
  γ: '\\gamma',
  θ: '\\theta',
  μ: '\\mu',
  σ: '\\sigma',
  τ: '\\tau',
  φ: '\\varphi',
  ω: '\\omega',
  '∞': '\\infty',
}

/** Returns a symbol with what stands below the line, in TeX. */
export function symbolTex(symbol: string, subscript: string): string {
  const named = (text: string) =>
    [...text].map((letter) => (NAMES[letter] ? `${NAMES[letter]} ` : letter)).join('')
  const upright = (text: string) =>
    text.length > 1 && /^[A-Za-z]+$/.test(text) ? `\\mathrm{${text}}` : named(text)
  return subscript === ''
    ? upright(symbol).trim()
    : `${upright(symbol).trim()}_{${upright(subscript).trim()}}`
}

/** Returns a coefficient, a symbol or a number, with what it stands before and what stands before it; its minus sign first. */
export function term(coefficient: string, after = '', before = ''): string {
  const isNegative = coefficient.startsWith('-')
  const plain = isNegative ? coefficient.slice(1) : coefficient
  // Beside a fraction a number would look like a part of it.
  const dot = before !== '' && /^\d/.test(plain) ? '\\cdot ' : ''
  return `${isNegative ? '-' : ''}${before}${dot}${plain}${after === '' ? '' : `\\,${after}`}`
}

/** Terms one after the other, each with its sign. */
export function sum(...terms: readonly string[]): string {
  return terms
    .map((one, i) => (i === 0 ? one : one.startsWith('-') ? ` - ${one.slice(1)}` : ` + ${one}`))
    .join('')
}

/** Returns the difference of something and a coefficient. */
export function less(from: string, coefficient: string): string {
  return coefficient.startsWith('-') ? `${from} + ${coefficient.slice(1)}` : `${from} - ${coefficient}`
}

/** Two factors; between numbers stands a dot, as they would look like one. */
export const times = (one: string, other: string) => `${one}${/^\d/.test(other) ? '\\cdot ' : '\\,'}${other}`

/** Returns a factor that is one, whatever stands beside it: what has a sign or a power of its own is put in brackets. */
export const whole = (factor: string) => (/^-|\\times/.test(factor) ? `(${factor})` : factor)

const RAISED = '⁰¹²³⁴⁵⁶⁷⁸⁹'

/** Returns a number as it is written for people, in TeX. */
export function numberTex(written: string): string {
  return written.replaceAll('−', '-').replace(/\u00a0×\u00a010([⁻⁰¹²³⁴⁵⁶⁷⁸⁹]+)/, (_, power: string) => {
    const digits = [...power].map((one) => (one === '⁻' ? '-' : String(RAISED.indexOf(one)))).join('')
    return `\\times 10^{${digits}}`
  })
}
