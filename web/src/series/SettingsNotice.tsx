import { MOST_TRIALS_AT_ONCE } from '@apokinema/core/api'
import { edit, type Investigation, type Patch } from '@apokinema/core/investigation'
import { type DifferingTrial, takeOverParts } from '@apokinema/core/series'
import { settingsText } from '@apokinema/words/series'
import { Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { v4 as uuid } from 'uuid'
import { client } from '../api/client.ts'
import { notify } from '../common/messages.tsx'
import { useOpenSeries, useSeriesAnalysis } from './SeriesContext.tsx'

/** An edit of one trial as it is sent, and the document that comes of it. */
interface TrialEdit {
  id: string
  base: number
  patch: Patch
  document: Investigation
}

/** What became of edits that were sent. */
interface Sent {
  /** The versions that came of those that were made, by trial. */
  versions: ReadonlyMap<string, number>
  /** Why the first of the others was refused; null if all were made. */
  refusal: string | null
}

/** Returns a function that sends edits of trials, and shows what came of those that were made. */
function useSendAll(): (all: readonly TrialEdit[]) => Promise<Sent> {
  const { session, setTrials, refresh } = useOpenSeries()
  return async (all) => {
    const parts: TrialEdit[][] = []
    for (let from = 0; from < all.length; from += MOST_TRIALS_AT_ONCE)
      parts.push(all.slice(from, from + MOST_TRIALS_AT_ONCE))
    const requests = parts.map((part) =>
      client.editTrials(
        session.id,
        part.map(({ id, base, patch }) => ({ id, key: uuid(), base, patch })),
      ),
    )
    // Where the server can't be reached, some parts may have come there.
    const answers = await Promise.all(requests).catch(async (error) => {
      await refresh().catch(() => {})
      throw error
    })
    const answered = answers.flat().map((answer, i) => ({ ...all[i], answer }))
    const made = answered.flatMap(({ id, document, answer }) =>
      'code' in answer ? [] : [{ id, document, ...answer }],
    )
    const refused = answered.flatMap(({ answer }) => ('code' in answer ? [answer.detail] : []))
    setTrials(made.filter(({ since }) => since.length === 0))
    if (refused.length > 0 || made.some(({ since }) => since.length > 0)) await refresh().catch(() => {})
    return {
      versions: new Map(made.map(({ id, version }) => [id, version])),
      refusal: refused[0] ?? null,
    }
  }
}

/** Returns a function that gives trials the settings of the pattern, which can be undone at once. */
export function useTakeOver(): (trials: readonly DifferingTrial[]) => Promise<void> {
  const { listed } = useOpenSeries()
  const pattern = useSeriesAnalysis().patternDocument()
  const sendAll = useSendAll()
  return async (trials) => {
    if (!pattern) return
    const edits = trials.flatMap((trial) => {
      const base = listed.get(trial.id)?.version
      const { document, patch, inverse } = edit(trial.document, takeOverParts(pattern, trial.parts))
      return base === undefined || patch.length === 0
        ? []
        : [{ id: trial.id, base, patch, document, inverse, before: trial.document }]
    })
    try {
      const { versions, refusal } = await sendAll(edits)
      const back = edits.flatMap(({ id, inverse, before }): TrialEdit[] => {
        const base = versions.get(id)
        return base === undefined ? [] : [{ id, base, patch: inverse, document: before }]
      })
      const undo = () =>
        void sendAll(back)
          .then((undone) => undone.refusal && notify(undone.refusal))
          .catch((error: Error) => notify(error.message))
      const changed = back.length === 1 ? 'The trial was changed.' : `${back.length} trials were changed.`
      const told = [back.length > 0 ? changed : '', refusal ?? ''].filter(Boolean).join(' ')
      notify(told, back.length > 0 ? { label: 'Undo', onClick: undo } : undefined)
    } catch (error) {
      notify((error as Error).message)
    }
  }
}

/** Says where trials differ from the one that they are set up like, and changes all of them at once; nothing where none differs. */
export function SettingsNotice() {
  const { listed } = useOpenSeries()
  const analysis = useSeriesAnalysis()
  const takeOver = useTakeOver()
  const [isBusy, setBusy] = useState(false)
  const trials = analysis.differing()
  const pattern = analysis.patternId()
  if (trials.length === 0 || pattern === null) return null
  const parts = [...new Set(trials.flatMap((trial) => trial.parts))]
  const change = async () => {
    setBusy(true)
    await takeOver(trials)
    setBusy(false)
  }
  return (
    <Flex
      gap="3"
      align="center"
      wrap="wrap"
      paddingX="3"
      paddingY="2"
      bg="petrol.tint"
      borderBottom="1px solid"
      borderColor="line"
      role="status"
      data-differing={trials.length}
    >
      <Text fontSize="small">
        {trials.length === 1 ? (listed.get(trials[0].id)?.title ?? 'One trial') : `${trials.length} trials`}{' '}
        {trials.length === 1 ? 'differs' : 'differ'} from {listed.get(pattern)?.title ?? 'the first one'} in{' '}
        {settingsText(parts)}.
      </Text>
      <Button size="xs" variant="outline" bg="panel" loading={isBusy} onClick={() => void change()}>
        {trials.length === 1 ? 'Make it alike' : 'Make all alike'}
      </Button>
    </Flex>
  )
}
