import type { Body } from '@apokinema/core/investigation'
import { type Course, courseOf } from '@apokinema/core/motion'
import { useInvestigation } from '../document/SessionContext.tsx'
import { useClock } from './ClipContext.tsx'
import { workbench } from './workbenchStore.ts'

/** Kept by the body, which every edit of a mark replaces; with it the clock that was asked. */
const known = new WeakMap<Body, { seconds: Float64Array; course: Course }>()

const NOTHING: Course = { strays: [], breaks: [] }

/** The course of a body's marks: which lie off it. */
export function useCourse(body: Body | undefined): Course {
  const clock = useClock()
  if (!body || !clock) return NOTHING
  const kept = known.get(body)
  if (kept?.seconds === clock.seconds) return kept.course
  const course = courseOf(body, clock.seconds)
  known.set(body, { seconds: clock.seconds, course })
  return course
}

/** The same of the body with an id. */
export function useCourseOf(id: string | null): Course {
  const { bodies } = useInvestigation()
  return useCourse(id === null ? undefined : bodies[id])
}

/** Goes to the next mark after a frame that lies off the course, or to the first. */
export function goToNextStray(body: string, { strays }: Course, after: number): void {
  const next = strays.find(({ frame }) => frame > after) ?? strays[0]
  if (!next) return
  workbench.goTo(next.frame)
  workbench.select({ kind: 'mark', body, frame: next.frame })
}
