import { fixed, withUnit } from '@apokinema/core/units'
import { Button, HStack, Stack, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { listsChanged } from '../api/queries.ts'
import { notify } from '../common/messages.tsx'
import { createFromFile } from '../investigations/create.ts'
import { prefetchWorkbench } from '../investigations/prefetchWorkbench.ts'
import { recordTrial } from '../series/createSeries.ts'

/**
 * The recorded clip: it is kept as a new investigation, or filmed again. In a series it becomes the next trial, and the camera stays on for
 * the one after it.
 */
export function RecordedClip(props: {
  file: File
  note: string | null
  onFailure: (failure: string | null) => void
  /** Id of the series that it belongs to; null: of none. */
  series: string | null
  /** Shows the camera's picture again. */
  toLive: () => void
}) {
  const { file, note, onFailure, series, toLive } = props
  const navigate = useNavigate()
  const [busy, setBusy] = useState(false)
  const keep = async () => {
    setBusy(true)
    onFailure(null)
    try {
      if (series) {
        const title = await recordTrial(series, file)
        void listsChanged()
        notify(`${title} was added. Film the next one, or go back to the trials.`)
        toLive()
        return
      }
      prefetchWorkbench()
      const id = await createFromFile(file)
      void listsChanged()
      navigate(`/investigations/${id}`)
    } catch (error) {
      onFailure((error as Error).message)
      setBusy(false)
    }
  }
  return (
    <Stack gap="3">
      <Text fontWeight="600">Is the whole motion in it?</Text>
      {note && <Text role="status">{note}</Text>}
      <Text color="ink.muted">
        {withUnit(fixed(file.size / 1e6, 1), 'MB')}.{' '}
        {series ? 'Keep it as the next trial, or film it again.' : 'Keep it to measure it, or film it again.'}
      </Text>
      <HStack>
        <Button colorPalette="brand" loading={busy} onClick={() => void keep()}>
          Keep
        </Button>
        <Button variant="outline" disabled={busy} onClick={toLive}>
          Retake
        </Button>
      </HStack>
    </Stack>
  )
}
