import type { ValueFormat } from '../investigation/index.ts'
import { measurement, rounded, significant, withUnit } from '../units/index.ts'
import type { LiveValue } from './liveValues.ts'

/** Returns a live value as it is written in a text. */
export function valueText(live: LiveValue, { part, digits, withUnit: hasUnit }: ValueFormat): string {
  if (live.kind === 'text') return live.text
  if (live.kind === 'count') return String(live.value)
  const { value, error } = live
  const unit = hasUnit ? live.unit : ''
  switch (part) {
    case 'unit':
      return live.unit
    case 'error':
      return withUnit(error > 0 ? significant(error, digits ?? 2) : '0', unit)
    case 'percent-error':
      return value === 0 ? '–' : withUnit(significant(Math.abs((100 * error) / value), digits ?? 2), '%')
    case 'value':
      return withUnit(digits === null ? rounded(value, error) : significant(value, digits), unit)
    case 'measurement':
      if (digits === null) return measurement(value, error, unit)
      return withUnit(
        error > 0 ? `${significant(value, digits)} ± ${significant(error, 2)}` : significant(value, digits),
        unit,
      )
  }
}
