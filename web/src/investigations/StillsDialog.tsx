import { Button, CloseButton, Dialog, Field, Input, Portal, Stack, Text } from '@chakra-ui/react'
import { type FormEvent, useState } from 'react'

/** Asks for the rate of stills, which the files do not state. */
export function StillsDialog({
  stills,
  take,
  close,
}: {
  stills: File[]
  take: (rate: string) => void
  close: () => void
}) {
  const [rate, setRate] = useState('')
  const [wrong, setWrong] = useState(false)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const typed = rate.replace(',', '.').trim()
    if (!/^\d{1,5}(\.\d{1,4})?$/.test(typed) || Number(typed) <= 0) {
      setWrong(true)
      return
    }
    close()
    take(typed)
  }
  return (
    <Dialog.Root open onOpenChange={({ open }) => !open && close()} size="sm">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content asChild>
            <form onSubmit={submit}>
              <Dialog.Header>
                <Dialog.Title>A film of stills</Dialog.Title>
              </Dialog.Header>
              <Dialog.Body>
                <Stack gap="3">
                  <Text>
                    {stills.length === 1
                      ? `The pictures in ${stills[0].name} become the frames of a film, in the order of their numbers.`
                      : `${stills.length} pictures become the frames of a film, in the order of their numbers.`}
                  </Text>
                  <Field.Root invalid={wrong}>
                    <Field.Label>How many were taken a second?</Field.Label>
                    <Input
                      autoFocus
                      fontFamily="mono"
                      inputMode="decimal"
                      placeholder="30"
                      value={rate}
                      onChange={(event) => {
                        setRate(event.target.value)
                        setWrong(false)
                      }}
                    />
                    <Field.ErrorText>A number above 0, such as 30 or 29.97.</Field.ErrorText>
                  </Field.Root>
                </Stack>
              </Dialog.Body>
              <Dialog.Footer>
                <Button variant="outline" onClick={close}>
                  Cancel
                </Button>
                <Button type="submit" colorPalette="brand">
                  Make the film
                </Button>
              </Dialog.Footer>
              <Dialog.CloseTrigger asChild>
                <CloseButton size="sm" />
              </Dialog.CloseTrigger>
            </form>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
