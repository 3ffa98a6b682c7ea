import { type RefObject, useLayoutEffect, useState } from 'react'

/** Returns the size of an element in CSS pixels, kept up to date; 0 × 0 before it is laid out. */
export function useSize(element: RefObject<HTMLElement | null>): { width: number; height: number } {
  const [size, setSize] = useState({ width: 0, height: 0 })
  useLayoutEffect(() => {
    const target = element.current
    if (!target) return
    const observer = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect
      setSize({ width: Math.round(width), height: Math.round(height) })
    })
    observer.observe(target)
    return () => observer.disconnect()
  }, [element])
  return size
}
