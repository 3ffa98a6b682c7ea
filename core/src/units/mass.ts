import { fixed } from './format.ts'

/** A mass in kilograms, with its standard error. */
export interface Mass {
  value: number
  error: number
}

const GRAMS: Record<string, number> = { kg: 1, g: 1e-3, mg: 1e-6, t: 1e3 }

const MASS = /^([\d.,]+(?:e[+-]?\d+)?)\s*(?:(?:±|\+-|\+\/-)\s*([\d.,]+))?\s*(kg|g|mg|t)?$/i

/** Reads a mass such as "0.25 kg" or "250 ± 2 g", kilograms where no unit stands; null for nothing, undefined for what is none. */
export function parseMass(text: string): Mass | null | undefined {
  const typed = text.trim()
  if (typed === '') return null
  const found = MASS.exec(typed)
  if (!found) return undefined
  const number = (digits: string) => Number(digits.replace(',', '.'))
  const unit = GRAMS[(found[3] ?? 'kg').toLowerCase()]
  const mass = { value: number(found[1]) * unit, error: number(found[2] ?? '0') * unit }
  return mass.value > 0 && mass.value <= 1e12 && Number.isFinite(mass.error) ? mass : undefined
}

/** Returns a mass to be read: in grams below a kilogram. */
export function shownMass({ value, error }: Mass): string {
  const [factor, unit] = value < 1 ? [1000, 'g'] : [1, 'kg']
  const digits = (number: number) => fixed(number * factor, 6).replace(/\.?0+$/, '')
  return `${digits(value)}${error > 0 ? ` ± ${digits(error)}` : ''} ${unit}`
}
