import { type Investigation, inOrder, TIME } from '@apokinema/core/investigation'
import type { ViewTrouble } from '@apokinema/core/registration'
import { chiSquareBeyond } from '@apokinema/core/regression'
import type {
  Agreement,
  CellTrouble,
  MeasuringQuestion,
  MotionTrouble,
  SeriesAnalysis,
  SeriesGraph,
  SeriesMotion,
  SettingsPart,
  TrialView,
} from '@apokinema/core/series'
import { significant } from '@apokinema/core/units'
import { expressionProblemText } from './expressionProblems.ts'

/** Returns why a cell of the table of trials has no value. */
export function cellTroubleText(trouble: CellTrouble): string {
  switch (trouble.code) {
    case 'gone':
      return 'This trial does not have it.'
    case 'no-value':
      return 'Not measured yet.'
    case 'no-scale':
      return 'This trial has no scale yet.'
    case 'no-trial':
      return 'This trial can’t be opened.'
    case 'other-unit':
      return `It is in ${trouble.unit || 'no unit'}, unlike this column.`
    case 'missing':
      return `${trouble.name} has no value here.`
    case 'expression':
      return expressionProblemText(trouble.problem)
  }
}

const SETTINGS: Record<SettingsPart, string> = {
  clock: 'the frame rate',
  derivation: 'the method of derivation',
  quantities: 'quantities',
  graphs: 'graphs',
  fits: 'fits and expected values',
  calculations: 'calculations',
  'free-fall': 'g',
}

/** Returns parts of the settings of a trial in words: "graphs, calculations and g". */
export function settingsText(parts: readonly SettingsPart[]): string {
  const words = parts.map((part) => SETTINGS[part])
  const last = words.pop() ?? ''
  return words.length > 0 ? `${words.join(', ')} and ${last}` : last
}

/** Returns the title of a graph of a series: its own, or what it shows. */
export function graphTitle({ series: { columns } }: SeriesAnalysis, { x, y, title }: SeriesGraph): string {
  return title || `${columns[y].name} against ${columns[x].name}`
}

/** Returns the graphs of a trial that show a quantity against time, with their names. */
export function timeGraphs(trial: Investigation): [string, string][] {
  return inOrder(trial.graphs).flatMap(([id, { xQuantity, quantity, body, title }]): [string, string][] =>
    xQuantity === TIME ? [[id, title || `${quantity} of ${trial.bodies[body]?.name ?? 'a body'}`]] : [],
  )
}

/** Returns the title of motions that are drawn over each other. */
export function motionTitle(analysis: SeriesAnalysis, { graph }: SeriesMotion): string {
  const pattern = analysis.patternDocument()
  const name = pattern && timeGraphs(pattern).find(([id]) => id === graph)?.[1]
  return `${name ?? 'A graph that is gone'}, all trials`
}

const MOTION_TROUBLES: Record<MotionTrouble, string> = {
  'no-graph': 'It has no such graph against time.',
  'no-points': 'Nothing is marked in it yet.',
  'no-moment': 'It has no such moment. Choose another one to align at.',
}

/** Returns why the motion of a trial is not drawn over those of the others. */
export const motionTroubleText = (trouble: MotionTrouble): string => MOTION_TROUBLES[trouble]

const VIEW_TROUBLES: Record<ViewTrouble, string> = {
  size: 'Other picture size: set the scale and axes again.',
  notFound: 'Not the same view: set the scale and axes again.',
  ambiguous: 'Can’t tell if the camera moved: set the scale and axes again.',
  parts: 'The camera or things were moved: set the scale and axes again.',
  anchorMoved: 'The reference was moved: set the scale again.',
  uncertain: 'Can’t tell exactly how the camera moved: set the scale and axes again.',
}

/** Returns how the view of a trial compares with the trial that its set-up comes from; empty if there is nothing to look at. */
export function viewText(view: TrialView | null): string {
  if (!view || view.kind === 'same') return ''
  if (view.kind === 'other') return VIEW_TROUBLES[view.trouble]
  return `Camera moved ${significant(view.farthest, 2)} px: taken along.`
}

const QUESTIONS: Record<MeasuringQuestion, string> = {
  'no-body': 'Nothing that moves could be told apart for sure. Mark it, or follow it by hand.',
  lost: 'The body was lost here. Show where it is and follow it on.',
  'no-stretch': 'No part of the motion fits the law. Choose the stretch on the graph.',
  'no-film': 'The film could not be read. Open the trial to see why.',
}

/** Returns what a person is asked about a trial that could not be measured by itself. */
export const measuringText = (why: MeasuringQuestion): string => QUESTIONS[why]

/** Birge ratio from which trials hardly differ by chance or carelessness. */
const STEPPED = 10
/** Probability below which trials are said to scatter more than their errors promise, and more than which less. */
const UNLIKELY = 0.02

/**
 * Returns whether trials scatter about a law as their own errors promise.
 *
 * @param between standard deviation between trials beyond their own errors, with its unit; null: there is none
 */
export function scatterText(law: {
  reducedChiSquare: number
  freedom: number
  between: string | null
}): string {
  const { reducedChiSquare, freedom, between } = law
  if (between !== null)
    return `The trials scatter about the line more than their own errors promise: ${between} of it is between trials.`
  const chiSquare = `χ²/ν ${significant(reducedChiSquare, 2)}`
  const beyond = freedom > 0 ? chiSquareBeyond(reducedChiSquare * freedom, freedom) : 0
  return beyond > 1 - UNLIKELY / 2
    ? `The trials scatter about the line less than their own errors promise (${chiSquare}). The errors may be stated too large.`
    : `The trials scatter about the line as their own errors promise (${chiSquare}).`
}

/** Returns whether trials scatter as their own errors promise. */
export function agreementText(agreement: Agreement | null): string {
  if (!agreement) return ''
  const { birgeRatio, probability } = agreement
  if (probability < UNLIKELY)
    return `The trials scatter ${significant(birgeRatio, 2)} times as much as their own errors promise. ${
      birgeRatio > STEPPED
        ? 'Did you change something on purpose? Add it as a column.'
        : 'Something differs between them.'
    }`
  if (probability > 1 - UNLIKELY / 2)
    return 'The trials scatter less than their own errors promise. The errors may be stated too large.'
  return 'The trials scatter as their own errors promise.'
}
