import type { MouseEvent } from 'react'
import { useNavigate } from 'react-router'

/**
 * Returns what handles clicks on the plain links within an element as links of the application: where there are hundreds, one
 * handler is much faster than a component each. A click that opens another tab or window stays the browser's.
 */
export function usePlainLinks(): (event: MouseEvent) => void {
  const navigate = useNavigate()
  return (event) => {
    const link = (event.target as Element).closest('a')
    const isPlain = event.button === 0 && !(event.metaKey || event.ctrlKey || event.shiftKey || event.altKey)
    // Events of windows and menus come here, too, which are elsewhere in the page.
    if (!link || !isPlain || event.defaultPrevented || !event.currentTarget.contains(link)) return
    event.preventDefault()
    void navigate(link.pathname)
  }
}
