import { type ComponentType, createElement, useEffect, useReducer, useState } from 'react'
import { Loading } from './states.tsx'

/**
 * Returns a component whose code is loaded when it is first shown, or when its `load` is called. It is shown as soon as its code
 * is there: a Suspense boundary that has shown its fallback keeps it for 0.3 s, however soon the code came.
 *
 * @param waiting what is said meanwhile; nothing where there is enough to look at
 */
export function loadedLater<P extends object>(
  code: () => Promise<{ default: ComponentType<P> }>,
  waiting?: string,
): ComponentType<P> & { load: () => void } {
  let loaded: ComponentType<P> | null = null
  let loading: Promise<void> | null = null
  const load = () => {
    loading ??= code().then(
      (module) => {
        loaded = module.default
      },
      (error) => {
        // Whoever shows it next tries again.
        loading = null
        throw error
      },
    )
    return loading
  }
  function LoadedLater(props: P) {
    const [, renderAgain] = useReducer((count: number) => count + 1, 0)
    const [failure, setFailure] = useState<Error | null>(null)
    useEffect(() => {
      if (!loaded) load().then(renderAgain, setFailure)
    }, [])
    if (failure) throw failure
    if (loaded) return createElement(loaded, props)
    return waiting === undefined ? null : <Loading text={waiting} />
  }
  return Object.assign(LoadedLater, { load: () => void load().catch(() => {}) })
}
