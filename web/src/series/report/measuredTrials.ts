import { type AlignedMotion, alignedMotions, type SeriesAnalysis } from '@apokinema/core/series'
import type { NamedSeries } from '@apokinema/words/report/seriesSubject'
import type { Picture } from '@apokinema/words/report/shown'
import { stepFor, trialChronophotograph } from '../trialChronophotograph.ts'

/** What follows from a series apart from what is written of it. */
export type MeasuredTrials = Omit<NamedSeries, 'written'>

/** Returns the motions that are drawn over each other; none if they are gone. */
export function motionsOf(analysis: SeriesAnalysis, id: string): AlignedMotion[] {
  const motion = analysis.series.motions[id]
  return motion ? alignedMotions(analysis.table.countingRows(), motion).motions : []
}

/** Stills that were made or are being made, by motion: the page and each file show the same. */
const stills = new WeakMap<SeriesAnalysis, Map<string, Promise<Blob | string | null>>>()

/** Returns the still of all trials that a block shows, or why it can't be made; null if it is gone. */
export function trialsPhoto(analysis: SeriesAnalysis, picture: Picture): Promise<Blob | string | null> {
  if (picture.of !== 'motions') return Promise.resolve(null)
  const made = stills.get(analysis) ?? new Map<string, Promise<Blob | string | null>>()
  stills.set(analysis, made)
  const still = made.get(picture.motion) ?? stillOf(analysis, picture.motion)
  made.set(picture.motion, still)
  // What could not be made may be, another time.
  void still.then((found) => found instanceof Blob || made.delete(picture.motion))
  return still
}

async function stillOf(analysis: SeriesAnalysis, motion: string): Promise<Blob | string | null> {
  const pattern = analysis.patternDocument()
  const motions = motionsOf(analysis, motion)
  if (!pattern || motions.length === 0) return null
  const made = await trialChronophotograph(motions, pattern, stepFor(motions), () => {}).catch(
    (error: Error) => error.message,
  )
  return typeof made === 'string' ? made : made.blob
}
