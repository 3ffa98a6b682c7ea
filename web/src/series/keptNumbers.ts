import type { ListedTrial } from '@apokinema/core/api'
import type { Investigation } from '@apokinema/core/investigation'
import { keepNumbers, type NumbersByTrial, readNumbers } from '@apokinema/core/series'
import { type StoredNumbers, storedNumbers } from '../document/localStore.ts'

/** Names what computes the numbers: others may give other numbers. Undefined while it is being developed. */
const BUILD: string | undefined = import.meta.env.VITE_CORE

/** Returns the numbers of trials that this browser has computed from the same versions of their documents. */
export async function numbersOf(
  series: string,
  trials: () => Promise<ListedTrial[]>,
): Promise<NumbersByTrial> {
  const [stored, listed] = await Promise.all([BUILD ? storedNumbers.get(series) : undefined, trials()])
  if (!stored || stored.build !== BUILD) return new Map()
  return new Map(
    listed.flatMap(({ id, version }) => {
      const found = stored.trials.get(id)
      return found?.version === version ? [[id, readNumbers(found.numbers)] as const] : []
    }),
  )
}

/** Keeps what was computed of trials, for the next time that the series is opened. */
export async function keepTrialNumbers(
  series: string,
  trials: readonly ListedTrial[],
  documents: ReadonlyMap<string, Investigation>,
): Promise<void> {
  if (!BUILD) return
  const kept: StoredNumbers['trials'] = new Map()
  for (const { id, version } of trials) {
    const document = documents.get(id)
    const numbers = document ? keepNumbers(document) : {}
    // While trials are measured in the background nothing asks for their numbers.
    if (Object.keys(numbers).length > 0) kept.set(id, { version, numbers })
  }
  await storedNumbers.put(series, { build: BUILD, trials: kept })
}
