import { alongLine, QUANTITIES, type QuantityInfo } from '../motion/index.ts'
import { type LoopSetting, PLAIN, type Setting } from './models/index.ts'

/** Returns what a quantity against time is, as models ask about it. */
export function settingOf(quantity: QuantityInfo): Setting {
  const line = alongLine(quantity.id)
  return {
    ...PLAIN,
    order: line?.order ?? null,
    letter: line?.place.letter ?? quantity.symbol,
    isAngle: (line?.place.dimension ?? quantity.dimension).angle !== 0,
  }
}

/** Returns what a quantity against another one is, as models that tell the one by the other ask about it. */
export function relationOf(quantity: QuantityInfo, xQuantity: QuantityInfo): Setting {
  return { ...PLAIN, letter: quantity.symbol, variable: variableOf(xQuantity) }
}

/** Returns what a free form calls the quantity that it is told by: its id, or the symbol of one that somebody has defined. */
export function variableOf(xQuantity: QuantityInfo): string {
  return Object.hasOwn(QUANTITIES, xQuantity.id) ? xQuantity.id : xQuantity.symbol
}

/** Returns the same for models of closed curves. */
export function loopOf(quantity: QuantityInfo, xQuantity: QuantityInfo): LoopSetting {
  const line = alongLine(quantity.id)
  return {
    isRateOf: line?.order === 1 && line.place.id === xQuantity.id,
    isAngle: xQuantity.dimension.angle !== 0,
  }
}
