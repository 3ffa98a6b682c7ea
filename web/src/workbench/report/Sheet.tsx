import { Button, CloseButton, Drawer, Portal } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'

/** A button at the lower edge of a narrow window, and the sheet that it opens over the page. */
export function Sheet({
  label,
  children,
}: {
  label: string
  /** Given what closes the sheet. */
  children: (close: () => void) => ReactNode
}) {
  const [open, setOpen] = useState(false)
  return (
    <Drawer.Root open={open} onOpenChange={(event) => setOpen(event.open)} placement="bottom" size="md">
      <Drawer.Trigger asChild>
        <Button size="sm" variant="outline" flex="1">
          {label}
        </Button>
      </Drawer.Trigger>
      <Portal>
        <Drawer.Backdrop />
        <Drawer.Positioner>
          <Drawer.Content maxHeight="75dvh" borderTopRadius="14px">
            <Drawer.Header paddingBottom="0">
              <Drawer.Title srOnly>{label}</Drawer.Title>
            </Drawer.Header>
            <Drawer.Body padding="0" overflowY="auto">
              {children(() => setOpen(false))}
            </Drawer.Body>
            <Drawer.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Drawer.CloseTrigger>
          </Drawer.Content>
        </Drawer.Positioner>
      </Portal>
    </Drawer.Root>
  )
}
