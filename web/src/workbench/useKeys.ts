import { axesOf, inOrder, pictureSize } from '@apokinema/core/investigation'
import { useEffect } from 'react'
import { create } from 'zustand'
import { useSession } from '../document/SessionContext.tsx'
import type { Session } from '../document/session.ts'
import { undoByKey } from '../document/undoByKey.ts'
import { goBy } from './actions.ts'
import { endPoints } from './calibrating.ts'
import { clickOn } from './clicking.ts'
import { endFollowing, pauseFollowing, startFollowing } from './following/followActions.ts'
import { follow } from './following/followRun.ts'
import { useFollowing } from './following/followStore.ts'
import { enterFullScreen, leaveFullScreen, useFullScreen } from './fullScreen.ts'
import { restUntilHere, skipFrame, startMarking, takeBack } from './marking.ts'
import { placedBy } from './placing.ts'
import { useProposals } from './proposals/useProposedBodies.ts'
import { chooseHandle, deleteSelected, moveSelectionBy, pullOutline } from './selecting.ts'
import { useWorkbench, workbench } from './workbenchStore.ts'

const STORED = 'apokinema:letter-keys'

/** Whether single letters act as keys (WCAG 2.1.4: they can be switched off). */
export const useLetterKeys = create<{ on: boolean; set: (on: boolean) => void }>((set) => ({
  on: localStorage.getItem(STORED) !== 'off',
  set: (on) => {
    localStorage.setItem(STORED, on ? 'on' : 'off')
    set({ on })
  },
}))

/** All keys, for the list that ? shows. */
export const KEYS: [string, string][] = [
  ['Space', 'play and pause'],
  [', .', 'one frame back and on'],
  ['< >', 'a step of the span back and on'],
  ['Home End', 'first and last frame of the span'],
  [
    'arrows',
    'move the reticle or the selected point; with Shift ten times as far. With nothing selected: step frames',
  ],
  [
    'Enter',
    'set the point at the reticle; with Shift: that was the last point of an edge, or while marking one end of a streak',
  ],
  ['M', 'mark the active body'],
  ['F', 'have the active body followed: Enter goes forward, Shift Enter back, Space holds it, Esc stops'],
  ['[ ]', 'before following: choose a handle of the outline; arrows draw it out and in'],
  ['1 – 9', 'switch to a body'],
  ['Backspace', 'while marking: take the last mark back'],
  ['S', 'while marking: skip this frame'],
  ['R', 'while marking: it has rested at its last mark until this frame'],
  ['Delete', 'delete what is selected'],
  ['+ − 0', 'zoom in, out, whole picture'],
  ['Ctrl Z', 'undo; with Shift, or Ctrl Y: redo'],
  ['/ and =', 'in a report: put in a block, a value'],
  ['Alt ↑, Alt ↓', 'in a report: move the block up and down'],
  ['Esc', 'in a report: from the text to the settings of its block, and back'],
  ['Esc', 'leave a mode, drop a selection; otherwise hide what was found to move, and show it again'],
  ['W', 'give the picture the whole screen, and back'],
  ['?', 'help'],
]

/** Directions of the arrow keys, to the right and down. */
export const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
}

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
  )
}

/** Returns true if the focused element uses these keys itself: a menu, a dialog, a slider, a tab. */
function isUsed(target: EventTarget | null, key: string): boolean {
  if (!(target instanceof HTMLElement)) return false
  if (target.closest('[role=menu],[role=dialog],[role=listbox]')) return true
  const onButton = target.closest('button,a,[role=button]') !== null
  if (onButton && (key === ' ' || key === 'Enter')) return true
  return (
    target.closest('[role=slider],[role=tab]') !== null && (key in ARROWS || key === 'Home' || key === 'End')
  )
}

/** Moves the handle, the reticle or the selected point by an arrow key, or steps frames; `far` moves ten times as far. */
function pressArrow(session: Session, key: string, far: boolean): void {
  const [dx, dy] = ARROWS[key]
  const { mode, reticle, selection } = useWorkbench.getState()
  const investigation = session.document
  const { footage } = investigation
  const axes = axesOf(investigation)
  if (mode.kind === 'follow' && selection?.kind === 'outline')
    pullOutline(session, (dx || -dy) * (far ? 10 : 1))
  else if (mode.kind !== 'select' && footage) {
    const { width, height } = pictureSize(investigation)
    const at = reticle ?? (axes.placed ? axes.origin : { x: width / 2, y: height / 2 })
    const by = far ? 10 : 1
    const moved = {
      x: Math.min(width, Math.max(0, at.x + dx * by)),
      y: Math.min(height, Math.max(0, at.y + dy * by)),
    }
    workbench.setReticle(moved, 'keys')
  } else if (selection) {
    const by = far ? 2.5 : 0.25
    moveSelectionBy(session, dx * by, dy * by)
  } else goBy(session, (dx || -dy) * (far ? 10 : 1), false)
}

/** Space: pauses following and resumes it, or plays and pauses the clip. */
function playOrPause(): void {
  const { mode, playing } = useWorkbench.getState()
  const { phase } = useFollowing.getState()
  if (mode.kind === 'follow' && (phase === 'running' || phase === 'paused'))
    pauseFollowing(phase === 'running')
  else workbench.play(!playing)
}

/** Enter: ends an edge, begins following, or places a point at the reticle. */
function pressEnter(session: Session, isShift: boolean): void {
  const { mode, reticle, reticleTool, shown } = useWorkbench.getState()
  if (mode.kind === 'lens' && mode.points.length >= 3 && isShift) endPoints(session)
  else if (mode.kind === 'follow' && ['ready', 'outlining'].includes(useFollowing.getState().phase))
    void follow(session, isShift ? 'back' : undefined)
  else if (!reticle || shown === null) return
  else if (mode.kind === 'mark' && isShift) workbench.setStreak(placedBy(reticleTool, reticle))
  else clickOn(session, placedBy(reticleTool, reticle), shown)
}

/** Escape: cancels what was begun last. */
function pressEscape(): void {
  const { mode, streak } = useWorkbench.getState()
  if (streak) workbench.setStreak(null)
  else if (mode.kind === 'follow') endFollowing()
  else if (mode.kind !== 'select') workbench.leave()
  else if (useWorkbench.getState().selection) workbench.select(null)
  else if (useFullScreen.getState().on) leaveFullScreen()
  else useProposals.setState(({ hidden }) => ({ hidden: !hidden }))
}

/** Returns what each key does besides arrows and digits; letters in lower case. */
function keyActions(
  session: Session,
  isShift: boolean,
  { zoomBy, showHelp }: { zoomBy: (factor: number) => void; showHelp: () => void },
): Record<string, () => void> {
  const { mode } = useWorkbench.getState()
  const { span } = session.document
  return {
    ' ': playOrPause,
    ',': () => goBy(session, -1, false),
    '.': () => goBy(session, 1, false),
    '<': () => goBy(session, -1, true),
    '>': () => goBy(session, 1, true),
    Home: () => workbench.goTo(span.first),
    End: () => workbench.goTo(span.last),
    Enter: () => pressEnter(session, isShift),
    m: () => startMarking(session),
    f: () => startFollowing(session),
    s: () => skipFrame(session),
    r: () => restUntilHere(session),
    Backspace: () => takeBack(session),
    Delete: () => deleteSelected(session),
    '[': () => mode.kind === 'follow' && chooseHandle(session, mode.body, -1),
    ']': () => mode.kind === 'follow' && chooseHandle(session, mode.body, 1),
    '+': () => zoomBy(1.25),
    '=': () => zoomBy(1.25),
    '-': () => zoomBy(0.8),
    '0': () => workbench.setView(null),
    w: () => (useFullScreen.getState().on ? leaveFullScreen() : enterFullScreen()),
    '?': showHelp,
    Escape: pressEscape,
  }
}

/** Handles the workbench's keys, wherever the focus is outside of fields. */
export function useKeys(options: { zoomBy: (factor: number) => void; showHelp: () => void }): void {
  const session = useSession()
  const { on: letters } = useLetterKeys()
  const { zoomBy, showHelp } = options

  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      const { key } = event
      if (event.defaultPrevented || isTyping(event.target) || isUsed(event.target, key) || event.altKey)
        return
      if (event.ctrlKey || event.metaKey) {
        undoByKey(session, event)
        return
      }
      const isLetter = /^[a-z0-9,.<>?+\-=]$/i.test(key)
      if (isLetter && !letters) return
      const body = /^[1-9]$/.test(key) ? inOrder(session.document.bodies)[Number(key) - 1]?.[0] : undefined
      const actions = keyActions(session, event.shiftKey, { zoomBy, showHelp })
      const action =
        key in ARROWS
          ? () => pressArrow(session, key, event.shiftKey)
          : body
            ? () => workbench.setBody(body)
            : actions[key.length === 1 ? key.toLowerCase() : key]
      if (!action) return
      event.preventDefault()
      action()
    }
    window.addEventListener('keydown', onKeyDown)
    return () => window.removeEventListener('keydown', onKeyDown)
  }, [session, letters, zoomBy, showHelp])
}
