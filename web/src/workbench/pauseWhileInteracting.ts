import { useWorkbench } from './workbenchStore.ts'

/** Pause of background work in milliseconds after a step, a key or a drag. */
const REST = 500
/** Least interval between two calls in milliseconds: not one with every move. */
const TOLD = 100

/** Events that count as interaction: not a pointer that only passes over. */
const DOINGS = ['pointerdown', 'pointermove', 'pointerup', 'wheel', 'keydown'] as const

/**
 * Pauses background work while a person steps, types or drags, so that the picture follows at once.
 *
 * @param hold is called with the pause in milliseconds
 * @returns a function that ends it
 */
export function pauseWhileInteracting(hold: (milliseconds: number) => void): () => void {
  let told = Number.NEGATIVE_INFINITY
  const onInteraction = () => {
    const now = performance.now()
    if (now - told < TOLD) return
    told = now
    hold(REST)
  }
  const onEvent = (event: Event) => {
    if (event.type !== 'pointermove' || (event as PointerEvent).buttons !== 0) onInteraction()
  }
  const options = { capture: true, passive: true }
  for (const doing of DOINGS) window.addEventListener(doing, onEvent, options)
  const unwatch = useWorkbench.subscribe((state, before) => {
    if (state.frame !== before.frame) onInteraction()
  })
  return () => {
    for (const doing of DOINGS) window.removeEventListener(doing, onEvent, options)
    unwatch()
  }
}
