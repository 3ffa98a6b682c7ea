import { createStore, type StoreApi, useStore } from 'zustand'

/**
 * The state of the investigation that is open: a store for each part, by its name, so that a change of one part asks nobody who
 * reads another.
 */
let opened = new Map<string, StoreApi<object>>()

/** Begins anew: nothing of what was seen and chosen in another investigation stays. Called whenever one is opened. */
export function beginOpenedState(): void {
  opened = new Map()
}

/** A part of the state of the investigation that is open, used as a hook or from outside of React. */
export interface OpenedState<T extends object> {
  (): T
  <Picked>(pick: (state: T) => Picked): Picked
  getState(): T
  setState(change: Partial<T> | ((state: T) => Partial<T>)): void
  /** Calls a listener after every change of this part; returns how to end that. */
  subscribe(listener: (state: T, before: T) => void): () => void
}

/**
 * Makes a part of the state of the investigation that is open. It is as `start` says whenever one is opened, and nothing of it
 * is saved.
 *
 * @param name unlike that of any other part
 */
export function openedState<T extends object>(name: string, start: T): OpenedState<T> {
  const store = () => {
    const found = opened.get(name) ?? createStore<object>(() => start)
    opened.set(name, found)
    return found as StoreApi<T>
  }
  const use = <Picked>(pick?: (state: T) => Picked) =>
    useStore(store(), (state) => (pick ? pick(state) : state))
  return Object.assign(use, {
    getState: () => store().getState(),
    setState: (change: Partial<T> | ((state: T) => Partial<T>)) => store().setState(change),
    subscribe: (listener: (state: T, before: T) => void) => store().subscribe(listener),
  }) as OpenedState<T>
}
