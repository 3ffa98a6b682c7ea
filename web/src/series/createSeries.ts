import type { ListedSampleSeries } from '@apokinema/core/api'
import { cleanTitle, cutText, edit, type Investigation, type Mutator } from '@apokinema/core/investigation'
import {
  axesRuleOf,
  isSetUp,
  newSeries,
  patternIdOf,
  readSeries,
  type Series,
  type SeriesColumn,
  seriesEdits,
} from '@apokinema/core/series'
import { v4 as uuid } from 'uuid'
import { client } from '../api/client.ts'
import { titleOf } from '../investigations/create.ts'
import { type AddedTrial, makeTrials } from './addTrials.ts'
import { freeSymbol, namedSources, shortName } from './trialSources.ts'

/** Most characters of a title that another word is put behind. */
const CUT = 180

async function create(title: string, mutators: readonly Mutator<Series>[]): Promise<string> {
  const id = uuid()
  const document = mutators.reduce((series, mutator) => edit(series, mutator).document, newSeries(title))
  await client.createSeries({ id, document })
  return id
}

/** Creates a series with an investigation as its first trial; returns its id. */
export async function createSeriesWith(id: string, document: Investigation): Promise<string> {
  return create(`${cutText(document.title, CUT)}, trials`, [
    seriesEdits.addTrial(id),
    ...(isSetUp(document) ? firstLook(document, []) : []),
  ])
}

/** Returns the edits by which a series shows the first reading of its pattern, and knows how new trials get their axes. */
export function firstLook(pattern: Investigation, columns: readonly SeriesColumn[]): Mutator<Series>[] {
  const axes = seriesEdits.setAxesRule(axesRuleOf(pattern))
  const first = namedSources(pattern).find(({ source }) => source.of === 'reading')
  if (!first || columns.some(({ content }) => content.kind === 'reading')) return [axes]
  const symbol = freeSymbol(
    first.symbol,
    columns.map((one) => one.symbol),
  )
  const content = { kind: 'reading', source: first.source } as const
  return [axes, seriesEdits.setColumn(uuid(), { name: shortName(first.name), symbol, unit: '', content })]
}

/**
 * Creates a series of clips that are still to be set up; returns its id.
 *
 * @param on `refused` is called for each clip that can't be used, with a message for people; the others are kept all the same
 * @throws if none of them can be used
 */
export async function createSeriesFromFiles(
  files: readonly File[],
  on: { refused: (name: string, error: Error) => void; progress: (done: number) => void },
): Promise<string> {
  const ids: string[] = []
  let last: Error | null = null
  await makeTrials(files, null, {
    ...on,
    done: ({ id }) => ids.push(id),
    refused: (name, error) => {
      last = error
      on.refused(name, error)
    },
  })
  if (ids.length === 0) throw last ?? new Error('There is no clip.')
  return create(
    titleOfAll(files.map(({ name }) => titleOf(name))),
    ids.map((id) => seriesEdits.addTrial(id)),
  )
}

/** Returns what titles begin with alike, or else the first of them. */
function titleOfAll(titles: readonly string[]): string {
  const [first, ...others] = titles
  let length = first.length
  for (const other of others) while (!other.startsWith(first.slice(0, length))) length--
  const common = first.slice(0, length).replace(/[\s\d.,(°-]+$/, '')
  return `${cutText(common.length >= 3 ? common : first, CUT)}, ${titles.length} trials`
}

/** Creates a series of samples with the conditions that were set for them; returns its id. */
export async function createSeriesFromSamples(sample: ListedSampleSeries): Promise<string> {
  const conditions = sample.conditions.map((condition) => ({ id: uuid(), ...condition }))
  const mutators: Mutator<Series>[] = conditions.map(({ id, name, symbol, unit, error }) =>
    seriesEdits.setColumn(id, { name, symbol, unit, content: { kind: 'number', error } }),
  )
  for (const trial of sample.trials) {
    const id = uuid()
    await client.create({ id, title: trial.title, sample: trial.id })
    mutators.push(seriesEdits.addTrial(id))
    for (const [i, { id: column, error }] of conditions.entries())
      mutators.push(seriesEdits.setTyped(id, column, { kind: 'number', value: trial.typed[i], error }))
  }
  return create(sample.title, mutators)
}

/** Applies an edit to a series that is not open on this page. */
export async function editStoredSeries(
  id: string,
  mutatorFor: (series: Series) => Mutator<Series>,
): Promise<void> {
  const { document, version } = await client.openSeries(id)
  const series = readSeries(document)
  const { patch } = edit(series, mutatorFor(series))
  if (patch.length > 0) await client.editSeries(id, { key: uuid(), base: version, patch })
}

/** Adds a recorded clip to a series as its next trial, set up like the others; returns its title. */
export async function recordTrial(id: string, recorded: File): Promise<string> {
  const { document } = await client.openSeries(id)
  const series = readSeries(document)
  const pattern = patternIdOf(series)
  const [opened] = pattern === null ? [] : await client.trials(id, [pattern])
  const title = `Trial ${Object.keys(series.trials).length + 1}`
  const extension = /\.\w+$/.exec(recorded.name)?.[0] ?? ''
  const file = new File([recorded], cleanTitle(title + extension, 255), { type: recorded.type })
  const made: (AddedTrial | Error)[] = []
  await makeTrials([file], opened ?? null, {
    done: (trial) => made.push(trial),
    refused: (_, error) => made.push(error),
    progress: () => {},
  })
  const [trial] = made
  if (trial instanceof Error) throw trial
  await editStoredSeries(id, () => seriesEdits.addTrial(trial.id, trial.view, trial.measuring))
  return title
}
