import { createToaster, Toast, Toaster } from '@chakra-ui/react'
import { type FocusEvent, type ReactNode, useEffect, useRef } from 'react'

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
      {({ id, title, action }) => <Message id={id!} title={title} actionLabel={action?.label} />}
    </Toaster>
  )
}

/** What had the focus before it went to a message. */
let focusedBefore: HTMLElement | null = null

/**
 * A message waits while it has the focus, and gives it back when it is closed. The toaster would do so too, but also gives it
 * back when Tab leads on from the message, and Tab then leads into it again: nobody would come past it by keys. So it does not
 * hear of the focus.
 */
function Message({ id, title, actionLabel }: { id: string; title: ReactNode; actionLabel?: ReactNode }) {
  const hasFocus = useRef(false)
  const onFocus = (event: FocusEvent) => {
    event.stopPropagation()
    hasFocus.current = true
    toaster.pause(id)
    const from = event.relatedTarget
    if (from instanceof HTMLElement && !from.closest('[data-scope="toast"]')) focusedBefore = from
  }
  const onBlur = ({ relatedTarget, currentTarget }: FocusEvent) => {
    if (currentTarget.contains(relatedTarget)) return
    hasFocus.current = false
    toaster.resume(id)
  }
  useEffect(
    () => () => {
      // Its action may have led elsewhere.
      if (hasFocus.current && document.activeElement === document.body)
        focusedBefore?.focus({ preventScroll: true })
    },
    [],
  )
  return (
    <Toast.Root width={{ md: 'md' }} bg="ink" color="paper" onFocus={onFocus} onBlur={onBlur}>
      <Toast.Title flex="1">{title}</Toast.Title>
      {actionLabel && <Toast.ActionTrigger color="paper">{actionLabel}</Toast.ActionTrigger>}
      <Toast.CloseTrigger aria-label="Close" />
    </Toast.Root>
  )
}
