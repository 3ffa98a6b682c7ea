import isEqual from 'fast-deep-equal'
import {
  type ById,
  type Fit,
  type Graph,
  type Investigation,
  type Mutator,
  newGraph,
} from '../investigation/index.ts'
import { frameCount } from '../time/index.ts'

/**
 * Settings that trials share with their pattern unless somebody changes one of them: how times are read, how velocity is derived, quantities
 * and graphs, models with their expected values, calculations, and g.
 */
export const SETTINGS_PARTS = [
  'clock',
  'derivation',
  'quantities',
  'graphs',
  'fits',
  'calculations',
  'free-fall',
] as const
export type SettingsPart = (typeof SETTINGS_PARTS)[number]

/** What one part of the settings is: how it is read from a document, and taken over from another one. */
interface Part {
  /** Returns the part of the pattern's as far as the trial can have it, and the trial's own. */
  both: (pattern: Investigation, trial: Investigation) => [unknown, unknown]
  /** Changes the trial so that the part is that of the pattern. */
  takeOver: (draft: Investigation, pattern: Investigation) => void
}

/** Returns those things of a trial that the pattern has, too: what else it has is its own. */
function known<T>(things: ById<T>, of: ById<T>): ById<T> {
  return Object.fromEntries(Object.entries(things).filter(([id]) => Object.hasOwn(of, id)))
}

/** Returns the capture rates of whole clips, or those of a part of the frames, which belong to one clip. */
const rates = (capture: Investigation['timing']['capture'], isWhole: boolean) =>
  Object.fromEntries(
    Object.entries(capture).filter(([, { from, to }]) => (from === null && to === null) === isWhole),
  )

const clockOf = ({ timing: { constantRate, rateError, readout, capture } }: Investigation) => ({
  constantRate,
  rateError,
  readout,
  capture: Object.values(rates(capture, true)),
})

/** Returns the pattern's graphs whose bodies are in a trial, as they are there: without what belongs to one clip. */
function graphsFor({ graphs }: Investigation, trial: Investigation): ById<Graph> {
  const has = (body: string) => Object.hasOwn(trial.bodies, body)
  return Object.fromEntries(
    Object.entries(graphs).flatMap(([id, graph]): [string, Graph][] => {
      if (!has(graph.body) || (graph.other !== null && !has(graph.other))) return []
      const own = trial.graphs[id] ?? newGraph(graph.order, graph.body, graph.quantity)
      const also = Object.fromEntries(Object.entries(graph.also).filter(([, { body }]) => has(body)))
      const axes = graph.axes !== null && Object.hasOwn(trial.axes, graph.axes) ? graph.axes : null
      const { notes, handTangent, overlays } = own
      return [[id, { ...graph, also, axes, notes, handTangent, overlays }]]
    }),
  )
}

/** Returns the pattern's fits whose stretches are, or can be, in a trial. */
function fitsFor({ fits, stretches }: Investigation, trial: Investigation): ById<Fit> {
  const canHave = (stretch: string) =>
    Object.hasOwn(trial.stretches, stretch) || Object.hasOwn(trial.graphs, stretches[stretch].graph)
  return Object.fromEntries(Object.entries(fits).filter(([, { stretch }]) => canHave(stretch)))
}

const PARTS: Record<SettingsPart, Part> = {
  clock: {
    both: (pattern, trial) => [clockOf(pattern), clockOf(trial)],
    takeOver: ({ timing }, pattern) => {
      const { constantRate, rateError, readout } = pattern.timing
      const capture = { ...rates(timing.capture, false), ...rates(pattern.timing.capture, true) }
      Object.assign(timing, { constantRate, rateError, readout, capture })
    },
  },
  derivation: {
    both: (pattern, trial) => [
      [pattern.derivation, pattern.outlierLimit],
      [trial.derivation, trial.outlierLimit],
    ],
    takeOver: (draft, { derivation, outlierLimit }) => Object.assign(draft, { derivation, outlierLimit }),
  },
  quantities: {
    both: (pattern, trial) => [pattern.quantities, known(trial.quantities, pattern.quantities)],
    takeOver: (draft, { quantities }) => Object.assign(draft.quantities, quantities),
  },
  graphs: {
    both: (pattern, trial) => {
      const graphs = graphsFor(pattern, trial)
      return [graphs, known(trial.graphs, graphs)]
    },
    takeOver: (draft, pattern) => Object.assign(draft.graphs, graphsFor(pattern, draft)),
  },
  fits: {
    both: (pattern, trial) => {
      const fits = fitsFor(pattern, trial)
      return [fits, known(trial.fits, fits)]
    },
    takeOver: (draft, pattern) => {
      const fits = fitsFor(pattern, draft)
      const last = draft.footage ? frameCount(draft.footage.ticks) - 1 : 0
      for (const { stretch } of Object.values(fits))
        draft.stretches[stretch] ??= { ...pattern.stretches[stretch], from: 0, to: last, without: {} }
      Object.assign(draft.fits, fits)
    },
  },
  calculations: {
    both: (pattern, trial) => [pattern.calculations, known(trial.calculations, pattern.calculations)],
    takeOver: (draft, { calculations }) => Object.assign(draft.calculations, calculations),
  },
  'free-fall': {
    both: (pattern, trial) => [pattern.freeFall, trial.freeFall],
    takeOver: (draft, { freeFall }) => Object.assign(draft, { freeFall }),
  },
}

/** Returns the parts of the settings in which a trial differs from its pattern. What a trial has beside those of the pattern is its own. */
export function differingParts(pattern: Investigation, trial: Investigation): SettingsPart[] {
  return SETTINGS_PARTS.filter((part) => {
    const [theirs, own] = PARTS[part].both(pattern, trial)
    return !isEqual(theirs, own)
  })
}

/** Returns the edit by which a trial has parts of the settings as its pattern; what it has beside them stays, and so do marks and stretches. */
export function takeOverParts(pattern: Investigation, parts: readonly SettingsPart[]): Mutator {
  return (draft) => {
    for (const part of SETTINGS_PARTS) if (parts.includes(part)) PARTS[part].takeOver(draft, pattern)
  }
}
