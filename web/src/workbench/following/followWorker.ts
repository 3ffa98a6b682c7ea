import * as Comlink from 'comlink'
import type { FollowWorker } from '../../footage/follow.worker.ts'
import { START, useFollowing } from './followStore.ts'

let hired: { from: Blob | string; worker: Worker; remote: Comlink.Remote<FollowWorker> } | null = null

/** The footage that is open; null where none is. */
let from: Blob | string | null = null

/** Says which footage is open; gives back how to let it, and whoever follows in it, go. */
export function followIn(footage: Blob | string): () => void {
  from = footage
  return () => {
    from = null
    dismiss()
    const { persistence, change, placedBy, together, by } = useFollowing.getState()
    useFollowing.setState({ ...START, persistence, change, placedBy, together, by })
  }
}

/** Returns the worker for a footage; hired if there is none. */
export function workerFor(from: Blob | string): Comlink.Remote<FollowWorker> {
  if (hired?.from !== from) {
    dismiss()
    const worker = new Worker(new URL('../../footage/follow.worker.ts', import.meta.url), {
      type: 'module',
      name: 'follow',
    })
    hired = { from, worker, remote: Comlink.wrap<FollowWorker>(worker) }
  }
  return hired.remote
}

/** Lets the worker go, with whatever it is at; marks that were found stay. */
function dismiss(): void {
  hired?.worker.terminate()
  hired = null
}

/** Returns the footage that is open; null where none is. */
export const openFootage = (): Blob | string | null => from

/** Returns the worker at work; null where there is none. */
export const hiredWorker = (): Comlink.Remote<FollowWorker> | null => hired?.remote ?? null
