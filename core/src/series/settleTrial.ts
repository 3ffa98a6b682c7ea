import {
  axesOf,
  edits,
  type Investigation,
  inOrder,
  type Mutator,
  type Stretch,
} from '../investigation/index.ts'
import {
  type BodyProposals,
  bodyProposals,
  type ProposedStretch,
  type StretchLaw,
  steadiedBody,
  takeAxes,
} from '../proposals/index.ts'
import { clockOf } from '../scene/index.ts'
import type { AxesRule } from './document/series.ts'

/** Law of motion that a stretch has if this model is fitted to it; oscillations for all others. */
const LAWS: Partial<Record<string, StretchLaw>> = {
  uniform: 'uniform',
  proportional: 'uniform',
  'uniform-acceleration': 'uniform-acceleration',
}
/** Least share of the frames of both that two stretches of the pattern have in common if they are the same. */
const SAME = 0.5

/** What measuring a trial leaves to be done once its bodies are followed, and whether all of it could be. */
export interface Settled {
  mutators: Mutator[]
  /** Ids of stretches that no proposed one was found for; they are left as they are. */
  open: string[]
}

/**
 * Returns the edits that place a trial's stretches where its own motion has the laws that the pattern's stretches have: the stretch at the
 * same place among those that are proposed, if there are as many as in the pattern, otherwise the longest with the same law. With axes by
 * the motion, its axes are laid along its motion.
 *
 * @param trial with the marks of its bodies
 */
export function settleTrial(trial: Investigation, pattern: Investigation, axesRule: AxesRule): Settled {
  const settled: Settled = { mutators: [], open: [] }
  for (const [body] of inOrder(trial.bodies)) {
    const found = proposalsOf(trial, body)
    const known = proposalsOf(pattern, body)
    if (axesRule === 'along-motion' && found?.axes && known?.axes) settled.mutators.push(takeAxes(found.axes))
    for (const [id, stretch] of Object.entries(trial.stretches)) {
      if (trial.graphs[stretch.graph]?.body !== body) continue
      const chosen = chosenFor(id, pattern, known?.stretches ?? [], found?.stretches ?? [])
      if (!chosen) settled.open.push(id)
      else if (chosen.from !== stretch.from || chosen.to !== stretch.to)
        settled.mutators.push(edits.changeStretch(id, chosen.from, chosen.to))
    }
  }
  return settled
}

/** Angles of axes that are along a motion: at most so far from its line, and at least so far from the picture's own directions (rad). */
const ALONG = { most: (1 * Math.PI) / 180, least: (2 * Math.PI) / 180 }

/** Returns the rule that new trials of a pattern have for their axes: along each motion, if the pattern's lie along the line of its own. */
export function axesRuleOf(pattern: Investigation): AxesRule {
  const { placed, tilt } = axesOf(pattern)
  const awayFrom = (angle: number) => Math.abs(Math.asin(Math.sin(tilt - angle)))
  const isUpright = Math.min(awayFrom(0), awayFrom(Math.PI / 2)) < ALONG.least
  if (!placed || isUpright) return 'taken-along'
  const isAlong = inOrder(pattern.bodies).some(([body]) => {
    const axes = proposalsOf(pattern, body)?.axes
    return axes?.kind === 'line' && awayFrom(axes.tilt) < ALONG.most
  })
  return isAlong ? 'along-motion' : 'taken-along'
}

function proposalsOf(investigation: Investigation, body: string): BodyProposals | null {
  const clock = clockOf(investigation)
  const steadied = investigation.bodies[body] && steadiedBody(investigation, body)
  return clock && steadied ? bodyProposals(steadied, clock.seconds, investigation.outlierLimit) : null
}

/** Returns the proposed stretch of a trial that takes the place of one of the pattern's; null if there is none. */
function chosenFor(
  id: string,
  pattern: Investigation,
  known: readonly ProposedStretch[],
  found: readonly ProposedStretch[],
): ProposedStretch | null {
  const stretch = pattern.stretches[id]
  const place = stretch ? known.findIndex((one) => commonShare(one, stretch) >= SAME) : -1
  if (place >= 0 && known.length === found.length) return found[place]
  const model = Object.values(pattern.fits).find((fit) => fit.stretch === id)?.model
  const law = place >= 0 ? known[place].law : model ? (LAWS[model] ?? 'oscillation') : null
  const alike = found.filter((one) => law === null || one.law === law)
  return alike.reduce<ProposedStretch | null>(
    (best, one) => (best && best.to - best.from >= one.to - one.from ? best : one),
    null,
  )
}

function commonShare(one: Pick<Stretch, 'from' | 'to'>, other: Pick<Stretch, 'from' | 'to'>): number {
  const common = Math.min(one.to, other.to) - Math.max(one.from, other.from) + 1
  return common / (Math.max(one.to, other.to) - Math.min(one.from, other.from) + 1)
}
