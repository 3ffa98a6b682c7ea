import { analyse } from '@apokinema/core/analysis'
import type { Investigation } from '@apokinema/core/investigation'
import { create } from 'zustand'
import { client } from '../api/client.ts'
import { createFromSample } from '../investigations/create.ts'

/** The steps of the guided first measurement, in order. */
export type GuideStep = 'follow' | 'draw' | 'length' | 'graphs' | 'fit' | 'done'

/** What each step asks for. */
export const GUIDE_TEXTS: Record<GuideStep, string> = {
  follow:
    'A glass float flies across the quay. Wait until it is found, then click “Follow this?” beside it: it is marked in every frame.',
  draw: 'How big is a pixel? Click “Draw along something you know”, then drag along the striped tide staff from its foot to its top.',
  length: 'The tide staff is 1.40 m long. Type 1.40 m, and press Enter.',
  graphs: 'That is all that a graph needs. Open Graphs, at the top.',
  fit: 'While it flies one parabola goes through all points: it stands there in dashes, with its reading. Press “Take” beside that.',
  done: 'You have measured g, with an honest error. Below the reading you can compare it with 9.81 m/s²; Report writes it up.',
}

const ORDER: readonly GuideStep[] = ['follow', 'draw', 'length', 'graphs', 'fit', 'done']

/** The steps that are something to do. */
export const GUIDE_STEPS = ORDER.slice(0, -1)

/** Returns the number of a step, from 1. */
export const guideNumber = (step: GuideStep) => ORDER.indexOf(step) + 1

/** Fewest marks with which a body counts as followed. */
const FEWEST = 20

/** Returns what comes next in the guided measurement, told by what is there: nobody has to say that a step is done. */
export function guideStep(investigation: Investigation, isInGraphs: boolean): GuideStep {
  const { bodies, references, fits } = investigation
  if (Object.keys(fits).length > 0) return 'done'
  if (!Object.values(bodies).some(({ marks }) => Object.keys(marks).length >= FEWEST)) return 'follow'
  if (analyse(investigation).scene().scale === null)
    return Object.keys(references).length === 0 ? 'draw' : 'length'
  return isInGraphs ? 'fit' : 'graphs'
}

/** Where a browser keeps which investigation is the guided one. */
const KEY = 'guided investigation'

function kept(): string | null {
  try {
    return localStorage.getItem(KEY)
  } catch {
    return null
  }
}

/** The investigation that is being guided, and whether the guide was left. */
export const useGuide = create<{ investigation: string | null; isLeft: boolean }>(() => ({
  investigation: kept(),
  isLeft: false,
}))

/** Opens the net float in a new investigation and guides through it; returns its address. */
export async function startGuide(): Promise<string> {
  const sample = (await client.samples()).samples.find(({ id }) => id === 'net-float')
  if (!sample) throw new Error('There is no sample net-float.')
  const investigation = await createFromSample(sample)
  try {
    localStorage.setItem(KEY, investigation)
  } catch {
    // Then it is forgotten with the page.
  }
  useGuide.setState({ investigation, isLeft: false })
  return `/investigations/${investigation}/measure`
}

/** Leaves the guide; it can be taken up again in help. */
export const leaveGuide = () => useGuide.setState({ isLeft: true })
