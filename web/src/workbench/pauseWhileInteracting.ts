import { useWorkbench } from './workbenchStore.ts'

/** Milliseconds for which work that nobody waits for rests after a step, a key or a drag. */
const REST = 500
/** It is told of the next one after this time at the earliest: not with every move. */
const TOLD = 100

/** What hands do at the workbench: a pointer that only passes over it is none of it. */
const DOINGS = ['pointerdown', 'pointermove', 'pointerup', 'wheel', 'keydown'] as const

/**
 * Has work in the background rest while somebody steps, types or drags, so that the picture follows the hand.
 *
 * @param hold is told for how many milliseconds to rest
 * @returns ends it
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
