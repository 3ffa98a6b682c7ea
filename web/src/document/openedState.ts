import { createStore, type StoreApi, useStore } from 'zustand'

/**
 * The state of the open investigation: one store per part, so that a change of one part does not
 * notify readers of another.
 */
let opened = new Map<string, StoreApi<object>>()

/** Resets all parts, so that nothing carries over from another investigation. Called whenever one is opened. */
export function beginOpenedState(): void {
  opened = new Map()
}

/** A part of the state of the open investigation, as a hook and for use outside of React. */
export interface OpenedState<T extends object> {
  (): T
  <Picked>(pick: (state: T) => Picked): Picked
  getState(): T
  setState(change: Partial<T> | ((state: T) => Partial<T>)): void
  /** Calls a listener after every change of this part; returns a function that unsubscribes it. */
  subscribe(listener: (state: T, before: T) => void): () => void
}

/**
 * Makes a part of the state of the open investigation. It is reset to `start` whenever one is opened, and is not
 * saved.
 *
 * @param name unique among the parts
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
