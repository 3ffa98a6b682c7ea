import { createStore, useStore } from 'zustand'

/** What of the page belongs to the investigation that is open, by the name of each part. */
type Parts = Readonly<Record<string, object>>

const makeStore = () => createStore<Parts>(() => ({}))

/** The store of the investigation that is open. */
let opened = makeStore()

/** Begins anew: nothing of what was seen and chosen in another investigation stays. Called whenever one is opened. */
export function beginOpenedState(): void {
  opened = makeStore()
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
  const of = (parts: Parts) => (parts[name] as T | undefined) ?? start
  const use = <Picked>(pick?: (state: T) => Picked) =>
    useStore(opened, (parts) => (pick ? pick(of(parts)) : of(parts)))
  return Object.assign(use, {
    getState: () => of(opened.getState()),
    setState: (change: Partial<T> | ((state: T) => Partial<T>)) =>
      opened.setState((parts) => {
        const state = of(parts)
        return { [name]: { ...state, ...(typeof change === 'function' ? change(state) : change) } }
      }),
    subscribe: (listener: (state: T, before: T) => void) =>
      opened.subscribe((now, before) => {
        if (of(now) !== of(before)) listener(of(now), of(before))
      }),
  }) as OpenedState<T>
}
