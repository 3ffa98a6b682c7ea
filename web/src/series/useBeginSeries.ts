import { cutText, edit, type Investigation } from '@apokinema/core/investigation'
import { axesRuleOf, newSeries, seriesEdits } from '@apokinema/core/series'
import { useNavigate } from 'react-router'
import { v4 as uuid } from 'uuid'
import { client } from '../api/client.ts'
import { listsChanged } from '../api/queries.ts'
import { notify } from '../common/messages.tsx'
import { freeSymbol, namedSources, shortName } from './trialSources.ts'

/** Returns a function that begins a series with an investigation as its first trial, and opens it. */
export function useBeginSeries(): (id: string, document: Investigation) => Promise<void> {
  const navigate = useNavigate()
  return async (id, document) => {
    try {
      const series = uuid()
      await client.createSeries({ id: series, document: seriesWith(id, document) })
      await listsChanged()
      await navigate(`/series/${series}`)
    } catch (error) {
      notify((error as Error).message)
    }
  }
}

/** Returns a series with one trial, and a column for the first reading of it. */
function seriesWith(id: string, document: Investigation) {
  const first = namedSources(document).find(({ source }) => source.of === 'reading')
  const mutators = [
    seriesEdits.addTrial(id),
    seriesEdits.setAxesRule(axesRuleOf(document)),
    ...(first
      ? [
          seriesEdits.setColumn(uuid(), {
            name: shortName(first.name),
            symbol: freeSymbol(first.symbol, []),
            unit: '',
            content: { kind: 'reading', source: first.source },
          }),
        ]
      : []),
  ]
  const title = `${cutText(document.title, 180)}, trials`
  return mutators.reduce((series, mutator) => edit(series, mutator).document, newSeries(title))
}
