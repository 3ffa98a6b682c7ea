import { Popover, type PopoverContentProps, Portal, Stack } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** A popover of options for the thing that its button belongs to. */
export function Pop({
  button,
  placement,
  children,
  ...content
}: {
  button: ReactNode
  placement: 'bottom-start' | 'bottom-end' | 'top-start' | 'top-end'
  children: ReactNode
} & Omit<PopoverContentProps, 'children'>) {
  return (
    <Popover.Root lazyMount unmountOnExit positioning={{ placement }}>
      <Popover.Trigger asChild>{button}</Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content {...content}>
            <Popover.Body padding="3" maxHeight="75vh" overflowY="auto">
              <Stack gap="2">{children}</Stack>
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
}
