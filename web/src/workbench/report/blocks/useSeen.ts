import { type RefObject, useEffect, useRef, useState } from 'react'

/** Returns whether an element has come near the visible part of the page, or the page is printed. */
export function useSeen(): [RefObject<HTMLDivElement | null>, boolean] {
  const place = useRef<HTMLDivElement>(null)
  const [isSeen, setSeen] = useState(false)
  useEffect(() => {
    if (isSeen) return
    const see = () => setSeen(true)
    const observer = new IntersectionObserver(
      (entries) => {
        if (entries.some(({ isIntersecting }) => isIntersecting)) see()
      },
      { rootMargin: '400px' },
    )
    observer.observe(place.current!)
    window.addEventListener('beforeprint', see)
    return () => {
      observer.disconnect()
      window.removeEventListener('beforeprint', see)
    }
  }, [isSeen])
  return [place, isSeen]
}
