import { useEffect } from 'react'

/** What can be undone by keys, such as a session. */
interface Undoable {
  undo(): void
  redo(): void
}

/** What is typed in: undo is the browser's there. */
export const TYPED_IN = '[contenteditable=true],input,textarea'

/**
 * Undoes and redoes by the session's history. Returns true if it was such a key.
 *
 * @param prepare called first
 */
export function undoByKey(session: Undoable, event: KeyboardEvent, prepare = () => {}): boolean {
  if (!(event.ctrlKey || event.metaKey) || event.altKey) return false
  const key = event.key.toLowerCase()
  if (key !== 'z' && key !== 'y') return false
  event.preventDefault()
  prepare()
  if (key === 'y' || event.shiftKey) session.redo()
  else session.undo()
  return true
}

/** Undoes and redoes by keys wherever nothing is typed in. */
export function useUndoKeys(session: Undoable): void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (!(event.target as Element).closest(TYPED_IN)) undoByKey(session, event)
    }
    window.addEventListener('keydown', onKeyDown)
    return () => window.removeEventListener('keydown', onKeyDown)
  }, [session])
}
