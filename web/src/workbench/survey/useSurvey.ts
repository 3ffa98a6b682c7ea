import { analyse } from '@apokinema/core/analysis'
import type { Footage } from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/scene'
import {
  type Finding,
  type FoundRepeats,
  fastestSpeed,
  findMotion,
  findRepeats,
  type MotionRange,
  proposedCamera,
  verdictOn,
} from '@apokinema/core/survey'
import * as Comlink from 'comlink'
import { useEffect, useMemo } from 'react'
import { surveys } from '../../document/localStore.ts'
import { openedState } from '../../document/openedState.ts'
import { useInvestigation } from '../../document/SessionContext.tsx'
import type { Survey, Surveyor } from '../../footage/survey.worker.ts'
import { useClip } from '../ClipContext.tsx'
import { pauseWhileInteracting } from '../pauseWhileInteracting.ts'
import { useFlags } from '../useFlags.ts'
import { useWorkbench } from '../workbenchStore.ts'

interface SurveyState {
  /** Id of its footage. */
  footage: string | null
  /** Progress from 0 to 1. */
  progress: number
  survey: Survey | null
  /** Threshold of repeats if a person has changed it. */
  threshold: number | null
}

const START: SurveyState = { footage: null, progress: 0, survey: null, threshold: null }

/** The survey of the open clip. */
export const useSurveyStore = openedState<SurveyState>('survey', START)

/** Returns the survey of footage; null while it is made. */
export const useSurveyOf = (footage: string | undefined): Survey | null =>
  useSurveyStore((state) => (state.footage === footage ? state.survey : null))

/** Returns a worker that surveys the clip once the first picture is displayed, and pauses during interaction. */
function hireSurveyor(): { surveyor: Comlink.Remote<Surveyor>; dismiss: () => void } {
  const worker = new Worker(new URL('../../footage/survey.worker.ts', import.meta.url), {
    type: 'module',
    name: 'survey',
  })
  const surveyor = Comlink.wrap<Surveyor>(worker)
  const unwatch = pauseWhileInteracting((milliseconds) => void surveyor.hold(milliseconds))
  const dismiss = () => {
    unwatch()
    worker.terminate()
  }
  return { surveyor, dismiss }
}

/**
 * Makes the survey of the open clip in a worker, or loads the one that this browser made before; then the
 * stills that are shown after jumps.
 */
export function useSurveying(): void {
  const footage = useInvestigation((now) => now.footage?.id ?? null)
  const { clip, from } = useClip()
  const isShown = useWorkbench((state) => state.shown !== null)

  useEffect(() => {
    if (!footage || !clip || !from || !isShown) return
    let dropped = false
    const { surveyor, dismiss } = hireSurveyor()
    const survey = async () => {
      if (useSurveyStore.getState().footage === footage && useSurveyStore.getState().survey) return
      useSurveyStore.setState({ ...START, footage })
      // Earlier surveys found no movers: they are made again.
      const stored = await surveys.get(footage)
      const known = stored && 'movers' in stored ? stored : null
      const onProgress = (progress: number) => {
        if (!dropped) useSurveyStore.setState({ progress })
      }
      const made = known ?? (await surveyor.survey(from, Comlink.proxy(onProgress)))
      if (dropped) return
      useSurveyStore.setState({ survey: made, progress: 1 })
      if (!known) await surveys.put(footage, made)
    }
    const look = async () => {
      // A clip that can't be surveyed can still be measured.
      await survey().catch(() => useSurveyStore.setState({ progress: 1 }))
      const pictures = clip.pictures()
      const take = (index: number, still: Blob) => pictures.addStill(index, still)
      if (!dropped) await surveyor.stills(from, pictures.stillCount, Comlink.proxy(take)).catch(() => {})
      dismiss()
    }
    void look()
    return () => {
      dropped = true
      dismiss()
    }
  }, [footage, clip, from, isShown])
}

/** Findings from the pictures of a clip alone. */
interface Seen {
  repeats: FoundRepeats
  motion: MotionRange | null
  /** Fastest motion in pixels per frame. */
  speed: number
  /** Position of the moving part in every frame, along the axis on which it moves farther; NaN where nothing moves. */
  seen: number[]
}

/** Findings for this investigation's clip. */
export interface Surveyed extends Seen {
  findings: Finding[]
}

/** Cached by survey and threshold: several rows and the strip use it. */
const read = new WeakMap<Survey, { threshold: number | null; seen: Seen }>()

function seenIn(survey: Survey, footage: Footage, rate: number, threshold: number | null): Seen {
  const kept = read.get(survey)
  if (kept && kept.threshold === threshold) return kept.seen
  const { differences } = survey
  const lying = footage.rotation % 180 !== 0
  const picture = lying ? { width: footage.height, height: footage.width } : footage
  const motion = findMotion(differences, rate)
  const [x, y] = (['x', 'y'] as const).map((key) => differences.map((difference) => difference[key]))
  const seen: Seen = {
    motion,
    repeats: findRepeats(differences, rate, threshold ?? undefined),
    speed: motion ? fastestSpeed(differences, motion, picture) : 0,
    seen: reach(x) > reach(y) ? x : y,
  }
  read.set(survey, { threshold, seen })
  return seen
}

function reach(values: number[]): number {
  const known = values.filter(Number.isFinite)
  return known.length > 0 ? Math.max(...known) - Math.min(...known) : 0
}

/** Returns the findings of the survey; null while it is being made. */
export function useSurveyed(): Surveyed | null {
  const investigation = useInvestigation()
  const { footage, timing, references, axes } = investigation
  const flags = useFlags()
  // Selected field by field, so that progress does not render its users.
  const survey = useSurveyStore((state) => state.survey)
  const threshold = useSurveyStore((state) => state.threshold)
  const of = useSurveyStore((state) => state.footage)
  // biome-ignore lint/correctness/useExhaustiveDependencies: of the investigation only these go in
  return useMemo(() => {
    const clock = clockOf(investigation)
    if (!survey || !footage || !clock || of !== footage.id) return null
    const seen = seenIn(survey, footage, clock.playback.rate, threshold)
    const frames = clock.seconds.length
    const findings = verdictOn({
      rate: clock.rate,
      frames,
      uneven: flags.length,
      repeats: timing.repeats ? 0 : seen.repeats.frames.length,
      speed: seen.speed,
      metresPerPixel: analyse(investigation).scene().scale?.metresPerPixel ?? null,
      shake: survey.shake,
      camera: survey.camera ? proposedCamera(survey.camera) : null,
      light: survey.light,
      edge: survey.edge,
      bitsPerPixel: footage.converted ? 1 : (8 * footage.size) / (footage.width * footage.height * frames),
    })
    return { ...seen, findings }
  }, [survey, threshold, of, footage, timing, references, axes, flags.length])
}
