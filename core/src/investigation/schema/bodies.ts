import { array, number, object, string } from 'yup'
import { DIRECTIONS, RADII } from '../../following/index.ts'
import { framesIn, indexOfFrame } from '../byFrame.ts'
import { BODY_COLOURS, BODY_SHAPES, BREAK_WORDS, type BreakWord } from '../document/bodies.ts'
import type { Investigation } from '../document/investigation.ts'
import {
  byFrame,
  finite,
  flag,
  isFrame,
  isKnownSound,
  isPlace,
  isPlacingError,
  isPlainObject,
  noteSound,
  title,
} from './fields.ts'

function isMark(value: unknown): boolean {
  if (!isPlainObject(value)) return false
  if (!Number.isFinite(value.x) || !Number.isFinite(value.y)) return false
  if ('right' in value && value.right !== true) return false
  if ('streak' in value && !isPlace(value.streak)) return false
  if ('until' in value && !isFrame(value.until)) return false
  const fields = Object.keys(value).filter((key) => !['right', 'streak', 'until'].includes(key)).length
  if (value.by === 'hand') return fields === 3 || (fields === 4 && isPlacingError(value.error))
  const { certainty } = value
  const isShare = typeof certainty === 'number' && certainty >= 0 && certainty <= 1
  return value.by === 'follow' && isShare && fields === 4
}

/** Marks that are looked at in one step: some milliseconds' work. */
const STEP = 2000

/**
 * Looks at the marks of all bodies, some thousand at a time, so that whoever checks the whole document afterwards finds
 * them sound. What is wrong is left to that check to say.
 *
 * @param pause awaited between steps
 */
export async function checkMarksInSteps(bodies: unknown, pause: () => Promise<void>): Promise<void> {
  if (!isPlainObject(bodies)) return
  let left = STEP
  for (const body of Object.values(bodies)) {
    if (!isPlainObject(body) || !isPlainObject(body.marks) || isKnownSound(body.marks, isMark)) continue
    for (const mark of Object.values(body.marks)) {
      if (!isKnownSound(mark, isMark) && isMark(mark)) noteSound(mark, isMark)
      if (--left > 0) continue
      await pause()
      left = STEP
    }
  }
}

const MARK_PATH = /^\/bodies\/([0-9a-f-]{36})\/marks\/(0|[1-9]\d{0,6})(\/(x|y|certainty))?$/

/**
 * Notes bodies as sound that a patch has made of sound ones, if it changes nothing but marks without rests beside them:
 * only those marks are looked at. Whatever else a patch does is left to the check of everything.
 *
 * @param before bodies that were found sound
 * @param after  the bodies after the patch
 * @param paths  of the patch's operations
 */
export function noteChangedMarks(
  before: Investigation['bodies'],
  after: Investigation['bodies'],
  paths: readonly string[],
): boolean {
  const changed = new Set<string>()
  for (const path of paths) {
    const [, id, frame] = MARK_PATH.exec(path) ?? []
    if (id === undefined || !Object.hasOwn(after, id) || !isKnownSound(before[id], body)) return false
    changed.add(id)
    const marks = after[id].marks
    const mark = marks[frame]
    if (mark === undefined) continue
    const at = Number(frame)
    if (!isFrame(at) || !isMark(mark) || mark.until !== undefined) return false
    const frames = framesIn(marks)
    const last = marks[frames[indexOfFrame(frames, at) - 1]]
    if (last?.until !== undefined) return false
    noteSound(mark, isMark)
  }
  for (const id of changed) {
    noteSound(after[id].marks, isMark)
    noteSound(after[id], body)
  }
  return true
}

/** Marks of a body: no rest may end before it begins, or reach over the next mark. */
function areMarks(marks: Record<string, unknown>): boolean {
  const frames = framesIn(marks)
  return frames.every((frame, i) => {
    const { until } = marks[frame] as { until?: number }
    return until === undefined || (until > frame && (i + 1 === frames.length || until < frames[i + 1]))
  })
}

export const body = object({
  order: finite(),
  name: title(120),
  colour: string().strict().required().oneOf(BODY_COLOURS),
  shape: string().strict().required().oneOf(BODY_SHAPES),
  mass: object({ value: finite().positive().max(1e12), error: finite().min(0).max(1e12) })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  hidden: flag(),
  locked: flag(),
  outline: object({
    radii: array(finite().min(RADII.least).max(RADII.most)).strict().required().length(DIRECTIONS),
  })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  markError: number().strict().positive().max(1000).nullable().defined(),
  marks: byFrame(isMark, areMarks),
  second: byFrame(isPlace),
  breaks: byFrame((word) => BREAK_WORDS.includes(word as BreakWord)),
})
  .noUnknown()
  .strict()
