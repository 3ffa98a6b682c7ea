import type { Body } from '@apokinema/core/investigation'
import { diagnoseTrack, type TrackDiagnosis } from '@apokinema/core/motion'
import { useInvestigation } from '../document/SessionContext.tsx'
import { useClock } from './ClipContext.tsx'
import { workbench } from './workbenchStore.ts'

/** Kept by the body, which every edit of a mark replaces; with it the clock and the limit that were asked. */
const known = new WeakMap<Body, { seconds: Float64Array; limit: number; course: TrackDiagnosis }>()

const NOTHING: TrackDiagnosis = { outliers: [], breaks: [], jumps: [] }

/** Returns the course of a body's marks: which lie off it. */
export function courseBy(body: Body, seconds: Float64Array, limit: number): TrackDiagnosis {
  const kept = known.get(body)
  if (kept?.seconds === seconds && kept.limit === limit) return kept.course
  const course = diagnoseTrack(body, seconds, limit)
  known.set(body, { seconds, limit, course })
  return course
}

/** Tells the course of any body's marks. */
export function useCourses(): (body: Body | undefined) => TrackDiagnosis {
  const clock = useClock()
  const { strayLimit } = useInvestigation()
  return (body) => (body && clock ? courseBy(body, clock.seconds, strayLimit) : NOTHING)
}

/** The course of a body's marks. */
export function useCourse(body: Body | undefined): TrackDiagnosis {
  return useCourses()(body)
}

/** The same of the body with an id. */
export function useCourseOf(id: string | null): TrackDiagnosis {
  const { bodies } = useInvestigation()
  return useCourse(id === null ? undefined : bodies[id])
}

/** Goes to the next mark after a frame that lies off the course, or to the first. */
export function goToNextStray(body: string, { outliers }: TrackDiagnosis, after: number): void {
  goToNextOf(
    body,
    outliers.map(({ frame }) => frame),
    after,
  )
}

/** Goes to the next of a body's marks after a frame, or to the first. */
export function goToNextOf(body: string, frames: number[], after: number): void {
  const next = frames.find((frame) => frame > after) ?? frames[0]
  if (next === undefined) return
  workbench.goTo(next)
  workbench.select({ kind: 'mark', body, frame: next })
}
