import { fixed, withUnit } from '@apokinema/core/units'
import { Button, HStack, Stack, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { listsChanged } from '../api/queries.ts'
import { createFromFile } from '../investigations/create.ts'
import { prefetchWorkbench } from '../investigations/prefetchWorkbench.ts'

/** The recorded clip: it is kept as a new investigation, or filmed again. */
export function RecordedClip(props: {
  file: File
  note: string | null
  onFailure: (failure: string | null) => void
  retake: () => void
}) {
  const { file, note, onFailure, retake } = props
  const navigate = useNavigate()
  const [busy, setBusy] = useState(false)
  const keep = async () => {
    setBusy(true)
    onFailure(null)
    try {
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
        {withUnit(fixed(file.size / 1e6, 1), 'MB')}. Keep it to measure it, or film it again.
      </Text>
      <HStack>
        <Button colorPalette="brand" loading={busy} onClick={() => void keep()}>
          Keep
        </Button>
        <Button variant="outline" disabled={busy} onClick={retake}>
          Retake
        </Button>
      </HStack>
    </Stack>
  )
}
