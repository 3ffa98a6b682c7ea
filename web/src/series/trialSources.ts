import { analyse } from '@apokinema/core/analysis'
import { namedReadings } from '@apokinema/core/fitting'
import { type Investigation, inOrder } from '@apokinema/core/investigation'
import { asName } from '@apokinema/core/motion'
import type { TrialSource } from '@apokinema/core/series'

/** A number that can be read in every trial, with the name and the symbol that a column of it gets. */
export interface NamedSource {
  source: TrialSource
  name: string
  symbol: string
}

/** Returns the numbers of a trial that a column can show in all trials, those of its fits first. */
export function namedSources(document: Investigation): NamedSource[] {
  const fits = analyse(document)
    .allFits()
    .flatMap(({ id, all, columns, settings, range }) =>
      namedReadings(all).map((reading): NamedSource => {
        const body = document.bodies[columns[0]?.table.body ?? '']?.name ?? ''
        const of = [settings.name || body, `stretch ${range.number}`].filter((one) => one !== '').join(', ')
        return {
          source: { of: 'reading', fit: id, reading: reading.id },
          name: `${reading.name} (${of})`,
          symbol: asName(`${reading.symbol}${reading.subscript}`),
        }
      }),
    )
  const calculations = inOrder(document.calculations).map(
    ([calculation, { name, symbol }]): NamedSource => ({
      source: { of: 'calculation', calculation },
      name: name || symbol,
      symbol: asName(symbol),
    }),
  )
  const probes = inOrder(document.probes).map(
    ([probe, { name }]): NamedSource => ({ source: { of: 'probe', probe }, name, symbol: asName(name) }),
  )
  const masses = inOrder(document.bodies).map(
    ([body, { name }]): NamedSource => ({
      source: { of: 'mass', body },
      name: `Mass of ${name}`,
      symbol: asName(`m ${name}`),
    }),
  )
  const constants = inOrder(document.constants).map(
    ([constant, { name }]): NamedSource => ({
      source: { of: 'constant', constant },
      name,
      symbol: asName(name),
    }),
  )
  return [
    ...fits,
    ...calculations,
    ...probes,
    { source: { of: 'steepness' }, name: 'Slope angle of the x axis', symbol: 'theta' },
    ...masses,
    ...constants,
  ]
}

/** Returns a name without what stands in brackets behind it, for the head of a column. */
export const shortName = (name: string): string => name.replace(/ \(.*\)$/, '')

/** Returns a symbol that no other column has. */
export function freeSymbol(symbol: string, taken: readonly string[]): string {
  const plain = symbol || 'c'
  if (!taken.includes(plain)) return plain
  for (let n = 2; ; n++) if (!taken.includes(`${plain}_${n}`)) return `${plain}_${n}`
}
