import type { Divisions } from '@apokinema/core/pictures'
import type { ProposedAxes, ProposedStretch, StretchEnd, StretchLaw } from '@apokinema/core/proposals'
import { angleMeasurement, fixed, significant, withUnit } from '@apokinema/core/units'

/** What holds on a stretch that is proposed. */
const LAWS: Record<StretchLaw, string> = {
  uniform: 'constant velocity',
  'uniform-acceleration': 'constant acceleration',
  oscillation: 'swings to and fro',
}

const BEGINS: Record<StretchEnd, string> = {
  marks: '',
  rest: 'Before: at rest.',
  abrupt: 'Before: a sudden change.',
  change: 'Before: another motion.',
}

const ENDS: Record<StretchEnd, string> = {
  marks: '',
  rest: 'After: at rest.',
  abrupt: 'After: an impact?',
  change: 'After: another motion.',
}

/** Returns the name of the law that holds on a stretch. */
export const stretchLaw = ({ law }: Pick<ProposedStretch, 'law'>): string => LAWS[law]

/** Returns why a stretch ends where it does; empty where its marks do. */
export const stretchEnd = ({ ends }: Pick<ProposedStretch, 'ends'>): string => ENDS[ends]

/** Returns why a stretch begins and ends where it does; empty where its marks do. */
export const stretchReasons = ({ begins, ends }: Pick<ProposedStretch, 'begins' | 'ends'>): string =>
  [BEGINS[begins], ENDS[ends]].filter(Boolean).join(' ')

/** Returns which axes are proposed. */
export function axesText(axes: ProposedAxes): string {
  switch (axes.kind) {
    case 'line':
      return `${axes.along} along its line, tilt ${angleMeasurement(axes.tilt, axes.tiltError)}`
    case 'fall':
      return `Does the camera lean ${angleMeasurement(Math.abs(axes.tilt), axes.tiltError)}?`
    case 'pivot':
      return `Origin at the pivot, ± ${withUnit(significant(axes.origin.error, 2), 'px')}`
  }
}

/** Returns why axes are proposed. */
export function axesReason(axes: ProposedAxes): string {
  switch (axes.kind) {
    case 'line':
      return axes.origin.is === 'first-mark' ? 'Origin at its first mark.' : 'Origin in its middle.'
    case 'fall':
      return `It falls to the ${axes.tilt > 0 ? 'right' : 'left'} of down.`
    case 'pivot':
      return 'The centre of its arc.'
  }
}

/** Standard errors from which divisions are said to shrink. */
const SHRINKS = 3

/** Returns how many divisions are seen, and whether they show perspective. */
export function divisionsText({ count, shrinkage, shrinkageError }: Divisions): string {
  const isSeenAtAngle = Math.abs(shrinkage) > Math.max(SHRINKS * shrinkageError, 0.02)
  const change = withUnit(fixed(100 * Math.abs(shrinkage), 0), '%')
  return isSeenAtAngle
    ? `${count} divisions; the last is ${change} ${shrinkage > 0 ? 'shorter' : 'longer'} than the first: seen at an angle.`
    : `${count} equal divisions.`
}
