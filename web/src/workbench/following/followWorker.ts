import * as Comlink from 'comlink'
import type { FollowWorker } from '../../footage/follow.worker.ts'
import { START, useFollowing } from './followStore.ts'

let hired: { from: Blob | string; worker: Worker; remote: Comlink.Remote<FollowWorker> } | null = null

/** The open footage; null if there is none. */
let from: Blob | string | null = null

/** Sets the open footage; returns a function that releases it and ends the worker. */
export function followIn(footage: Blob | string): () => void {
  from = footage
  return () => {
    from = null
    dismiss()
    const { persistence, change, placedBy, together, by } = useFollowing.getState()
    useFollowing.setState({ ...START, persistence, change, placedBy, together, by })
  }
}

/** Returns the worker of a footage; started if there is none. */
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

/** Ends the worker at once; marks that were found stay. */
function dismiss(): void {
  hired?.worker.terminate()
  hired = null
}

/** Returns the open footage; null if there is none. */
export const openFootage = (): Blob | string | null => from

/** Returns the running worker; null if there is none. */
export const hiredWorker = (): Comlink.Remote<FollowWorker> | null => hired?.remote ?? null
