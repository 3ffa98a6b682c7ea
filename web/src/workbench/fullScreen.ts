import { create } from 'zustand'

/** Whether the picture and its strip have the whole screen to themselves. */
export const useFullScreen = create<{ on: boolean }>(() => ({ on: false }))

/** Gives the picture the whole screen, or the whole page where the browser has no full screen. */
export function enterFullScreen(): void {
  useFullScreen.setState({ on: true })
  void document.documentElement.requestFullscreen?.().catch(() => {})
}

/** Shows everything else again. */
export function leaveFullScreen(): void {
  useFullScreen.setState({ on: false })
  if (document.fullscreenElement) void document.exitFullscreen().catch(() => {})
}

// The browser's own way out, mostly Escape, ends it, too.
document.addEventListener('fullscreenchange', () => {
  if (!document.fullscreenElement) useFullScreen.setState({ on: false })
})
