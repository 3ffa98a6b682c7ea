import { createToaster, Toast, Toaster } from '@chakra-ui/react'

const toaster = createToaster({ placement: 'bottom', max: 3, pauseOnPageIdle: true })

/** Shows a message for a few seconds, optionally with an action. */
export function notify(text: string, action?: { label: string; onClick: () => void }): void {
  toaster.create({
    title: text,
    duration: action ? 10_000 : 6_000,
    closable: true,
    ...(action ? { action } : {}),
  })
}

/** Where messages appear. */
export function Messages() {
  return (
    <Toaster toaster={toaster}>
      {(toast) => (
        <Toast.Root width={{ md: 'md' }} bg="ink" color="paper">
          <Toast.Title flex="1">{toast.title}</Toast.Title>
          {toast.action && <Toast.ActionTrigger color="paper">{toast.action.label}</Toast.ActionTrigger>}
          <Toast.CloseTrigger aria-label="Close" />
        </Toast.Root>
      )}
    </Toaster>
  )
}
