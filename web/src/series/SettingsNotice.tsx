import { edit, type Patch } from '@apokinema/core/investigation'
import { type DifferingTrial, takeOverParts } from '@apokinema/core/series'
import { settingsText } from '@apokinema/words/series'
import { Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { v4 as uuid } from 'uuid'
import { client } from '../api/client.ts'
import { notify } from '../common/messages.tsx'
import { useOpenSeries, useSeriesAnalysis } from './SeriesContext.tsx'

/** Edits that are sent at a time. */
const AT_A_TIME = 6

/** An edit of one trial as it is sent. */
interface TrialEdit {
  id: string
  base: number
  patch: Patch
}

/** Sends edits of trials; returns the versions that came of them. The first that fails is thrown when the others are through. */
async function sendAll(all: readonly TrialEdit[]): Promise<number[]> {
  const versions: number[] = []
  for (let from = 0; from < all.length; from += AT_A_TIME) {
    const sent = await Promise.allSettled(
      all
        .slice(from, from + AT_A_TIME)
        .map(({ id, base, patch }) => client.edit(id, { key: uuid(), base, patch })),
    )
    for (const one of sent) {
      if (one.status === 'rejected') throw one.reason
      versions.push(one.value.version)
    }
  }
  return versions
}

/** Returns a function that gives trials the settings of the pattern, which can be undone at once. */
export function useTakeOver(): (trials: readonly DifferingTrial[]) => Promise<void> {
  const { listed, refresh } = useOpenSeries()
  const pattern = useSeriesAnalysis().patternDocument()
  return async (trials) => {
    if (!pattern) return
    const edits = trials.flatMap(({ id, document, parts }) => {
      const base = listed.get(id)?.version
      const { patch, inverse } = edit(document, takeOverParts(pattern, parts))
      return base === undefined || patch.length === 0 ? [] : [{ id, base, patch, inverse }]
    })
    try {
      const versions = await sendAll(edits)
      const back = edits.map(({ id, inverse }, i) => ({ id, base: versions[i], patch: inverse }))
      const undo = () =>
        void sendAll(back)
          .catch((error: Error) => notify(error.message))
          .then(refresh)
      notify(edits.length === 1 ? 'The trial was changed.' : `${edits.length} trials were changed.`, {
        label: 'Undo',
        onClick: undo,
      })
    } catch (error) {
      notify((error as Error).message)
    }
    await refresh().catch(() => {})
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
