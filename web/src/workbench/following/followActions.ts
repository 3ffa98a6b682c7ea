import type { Point } from '@apokinema/core/geometry'
import { edits, framesInUse, framesOf } from '@apokinema/core/investigation'
import { notify } from '../../common/messages.tsx'
import type { Session } from '../../document/session.ts'
import type { Answer } from '../../footage/follow/followTask.ts'
import { addBody, setHandMark } from '../marking.ts'
import { activeBody } from '../shown.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { endRun, endRunThen, follow, runId } from './followRun.ts'
import { type FollowingState, useFollowing } from './followStore.ts'
import { nameOf } from './followTargets.ts'
import { hiredWorker, openFootage } from './followWorker.ts'
import { forgetLearning, learnBody } from './learnBody.ts'

const set = useFollowing.setState
/**
 * Enters following of the active body. If it is marked in this frame and has an outline, following can start at once.
 *
 * @param isRight whether its mark in this frame is used; otherwise a click is awaited
 */
export function startFollowing(session: Session, isRight = true): void {
  const investigation = session.document
  if (!investigation.footage || !openFootage()) return
  const { frame, body: chosen, mode } = useWorkbench.getState()
  if (mode.kind === 'follow') return
  const body = activeBody(investigation, chosen) ?? addBody(session)
  const { locked, name, marks, outline } = session.document.bodies[body]
  if (locked) {
    notify(`${name} is locked. Unlock it in its menu to have it followed.`)
    return
  }
  const used = framesInUse(investigation)
  if (!used.has(frame)) workbench.goTo(used.list.find((candidate) => candidate >= frame) ?? used.list[0])
  workbench.setBody(body)
  workbench.enter({ kind: 'follow', body })
  const at = useWorkbench.getState().frame
  forgetLearning()
  set({ phase: 'waiting', news: null, share: null, draft: null, chosen: null, seen: null })
  if (!marks[at] || !isRight) return
  if (outline && useFollowing.getState().by === 'template') set({ phase: 'ready', start: at })
  else void learnAndGo(session, at, marks[at])
}

/** Learns the clicked body, and follows it if a person has asked for that meanwhile. */
async function learnAndGo(session: Session, frame: number, at: Point): Promise<void> {
  const chosen = await learnBody(session, frame, at)
  if (chosen) await follow(session, chosen)
}

/** Handles a click while following: it chooses the body, or answers the question where it is. */
export function clickWhileFollowing(session: Session, at: Point, frame: number): void {
  const { phase, news } = useFollowing.getState()
  const { mode } = useWorkbench.getState()
  if (mode.kind !== 'follow' || !openFootage()) return
  if (phase === 'asking' && news?.question) {
    const { body, frame: asked } = news.question
    if (frame !== asked) {
      // The picture is still that of another frame: a click on it is no answer.
      workbench.goTo(asked)
      notify(`Frame ${asked} is asked for. It is shown now: click there.`)
      return
    }
    const document = session.document
    session.edit(
      `show ${nameOf(document, body)} in frame ${asked}`,
      document.bodies[body] ? edits.setMark(body, asked, at) : edits.markLandmark(body, asked, at),
      runId(),
    )
    reply({ kind: 'show', at })
  } else if (phase === 'waiting' || phase === 'ready' || phase === 'outlining') {
    if (!setHandMark(session, mode.body, frame, at)) return
    void learnAndGo(session, frame, session.document.bodies[mode.body].marks[frame])
  }
}

/** Chooses template or colour for the active body, and learns it again if it was clicked already. */
export function followBy(session: Session, by: FollowingState['by']): void {
  const { mode } = useWorkbench.getState()
  const { phase, start } = useFollowing.getState()
  set({ by })
  if (mode.kind !== 'follow' || phase !== 'ready') return
  const { outline, marks } = session.document.bodies[mode.body]
  if (marks[start] && !(by === 'template' && outline)) void learnAndGo(session, start, marks[start])
}

/** Frames back to a mark by hand up to which following by colour restarts there: a template slips before it is lost. */
const RECENT = 25

/**
 * Ends the run, and follows the active body by the colour at its point: from its last mark by hand, if that is near the
 * frame of the question, otherwise from its last mark.
 */
export function goOnByColour(session: Session): void {
  const { news, way } = useFollowing.getState()
  const { mode } = useWorkbench.getState()
  if (mode.kind !== 'follow' || !news?.question) return
  const { frame } = news.question
  const { marks } = session.document.bodies[mode.body]
  const marked = framesOf({ marks }).filter((one) => (way === 'on' ? one < frame : one > frame))
  const nearest = way === 'on' ? marked.reverse() : marked
  const own = nearest.find((one) => marks[one].by === 'hand')
  const isRecent = own !== undefined && Math.abs(frame - own) <= RECENT
  const from = isRecent ? own : nearest[0]
  set({ by: 'colour' })
  if (from === undefined) endRun()
  else
    endRunThen(() => {
      workbench.goTo(from)
      startFollowing(session)
    })
}

/** Answers the current question of following. */
export function reply(answer: Answer): void {
  set({ phase: 'running' })
  void hiredWorker()?.answer(answer)
}

/** Pauses or resumes the run. */
export function pauseFollowing(paused: boolean): void {
  set({ phase: paused ? 'paused' : 'running' })
  void hiredWorker()?.pause(paused)
}

/** Ends the run and keeps its marks; before it has begun, leaves the mode. */
export function endFollowing(): void {
  const { phase } = useFollowing.getState()
  if (phase === 'running' || phase === 'paused' || phase === 'asking') {
    endRun()
  } else workbench.leave()
}
