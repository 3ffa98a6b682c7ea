import type { ColumnFit, Reading } from './fitResult.ts'
import { throwReadings } from './throwReadings.ts'

/** A reading of a fit, by what it is chosen among those of all columns that are fitted together. */
export interface NamedReading extends Reading {
  id: string
}

/** Returns everything that a fit says, the reading that it is fitted for first. */
export function namedReadings(all: readonly ColumnFit[]): NamedReading[] {
  const first = Math.max(
    0,
    all.findIndex(({ model }) => model.id === 'uniform-acceleration'),
  )
  const ordered = [...all.slice(first, first + 1), ...all.filter((_, m) => m !== first)]
  const own = ordered.flatMap(({ member, quantity, readings }) =>
    readings.map((reading): NamedReading => {
      const isAlone = all.length === 1
      // The same quantity of several bodies is told apart by their number.
      const isTwin = all.filter((one) => one.quantity.id === quantity.id).length > 1
      const which = `${quantity.symbol}${quantity.subscript}${isTwin ? ` ${member + 1}` : ''}`
      return {
        ...reading,
        name: isAlone ? reading.name : `${reading.name}, ${which}`,
        id: member === 0 ? reading.key : `${member}:${reading.key}`,
      }
    }),
  )
  return [...own, ...throwReadings(all).map((reading) => ({ ...reading, id: reading.key }))]
}
