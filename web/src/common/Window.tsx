import { CloseButton, Dialog, Portal } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** A dialog over the page. It handles its own keys, and is not mounted while it is closed. */
export function Window({
  title,
  button,
  size = 'md',
  height,
  open,
  close,
  children,
}: {
  title: string
  /** The button that opens it; without one, `open` controls it. */
  button?: ReactNode
  size?: 'sm' | 'md' | 'lg' | 'xl'
  /** Of the whole window, where its content scrolls by itself; otherwise it is as high as its content. */
  height?: string
  open?: boolean
  /** Called when it has been closed. */
  close?: () => void
  children: ReactNode
}) {
  return (
    <Dialog.Root
      size={size}
      lazyMount
      unmountOnExit
      {...(open !== undefined && { open })}
      onOpenChange={(change) => {
        if (!change.open) close?.()
      }}
    >
      {button && <Dialog.Trigger asChild>{button}</Dialog.Trigger>}
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content {...(height && { height })} onKeyDown={(event) => event.stopPropagation()}>
            <Dialog.Header>
              <Dialog.Title>{title}</Dialog.Title>
            </Dialog.Header>
            {children}
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
