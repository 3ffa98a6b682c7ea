import { seriesEdits } from '@apokinema/core/series'
import { Button, Dialog, Field, Input, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { Window } from '../common/Window.tsx'
import { useSeriesSession } from './SeriesContext.tsx'

/** Asks why a trial is left out. */
export function LeaveOutWindow({ trial, title, close }: { trial: string; title: string; close: () => void }) {
  const session = useSeriesSession()
  const [reason, setReason] = useState('')
  const leaveOut = () => {
    session.edit(`leave ${title} out`, seriesEdits.leaveOut(trial, reason.trim()))
    close()
  }
  return (
    <Window title={`Leave out ${title}`} size="sm" open close={close}>
      <Dialog.Body>
        <Text marginBottom="3">
          It stays in the table, struck through, and counts in no mean and no fit. Say why, so that others can
          judge it.
        </Text>
        <Field.Root required>
          <Field.Label>Reason</Field.Label>
          <Input
            autoFocus
            maxLength={400}
            value={reason}
            placeholder="It was pushed at the start."
            onChange={(event) => setReason(event.currentTarget.value)}
            onKeyDown={(event) => {
              if (event.key === 'Enter' && reason.trim() !== '') leaveOut()
            }}
          />
        </Field.Root>
      </Dialog.Body>
      <Dialog.Footer>
        <Button variant="outline" onClick={close}>
          Cancel
        </Button>
        <Button colorPalette="brand" disabled={reason.trim() === ''} onClick={leaveOut}>
          Leave out
        </Button>
      </Dialog.Footer>
    </Window>
  )
}
