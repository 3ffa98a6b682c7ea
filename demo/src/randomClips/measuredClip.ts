import { analyse } from '@apokinema/core/analysis'
import {
  type ColumnFit,
  type FitSettings,
  fitColumn,
  fitColumns,
  halfWidth,
  throwReadings,
} from '@apokinema/core/fitting'
import { lineError, type Point } from '@apokinema/core/geometry'
import { edit, edits, type Investigation, newInvestigation } from '@apokinema/core/investigation'
import { normalSource, randomSource } from '@apokinema/core/random'
import { FitError } from '@apokinema/core/regression'
import type { FollowedFrame } from './followedClip.ts'
import type { RandomClip } from './randomClip.ts'

/** A reading of a followed clip beside the truth. */
export interface MeasuredReading {
  key: string
  value: number
  error: number
  /** Half the width of the 95 % interval. */
  half: number
  truth: number
}

const BODY = 'c1000000-0000-4000-8000-000000000001'
const REFERENCE = 'c1000000-0000-4000-8000-000000000002'
/** Standard error, in pixels, with which reference, axes and origin are placed; it is stated in the document. */
const PLACED = 0.5

/** Returns the investigation that a person makes of a followed clip: its reference, axes along the motion, and what was found. */
export function measuredClip(clip: RandomClip, found: FollowedFrame[]): Investigation {
  const { slope } = clip
  const normal = normalSource(randomSource(clip.seed + 77))
  const placed = ({ x, y }: Point) => ({
    x: x + PLACED * normal(),
    y: y + PLACED * normal(),
    frame: 0,
    error: PLACED,
  })
  const { origin } = clip.view
  const [low, high] = clip.reference.ends
  // The axes are laid along a line of a third of the picture's width.
  const length = clip.width / 3
  const line = [
    origin,
    { x: origin.x + length * Math.cos(slope), y: origin.y + length * Math.sin(slope) },
  ].map(placed)
  const tilt = Math.atan2(line[0].y - line[1].y, line[1].x - line[0].x)
  const ticks = Math.round(15360 / clip.rate)
  return edit(newInvestigation(clip.id), (draft) => {
    for (const mutator of [
      edits.setFootage({
        id: 'f3000000-0000-4000-8000-000000000001',
        name: 'clip.mp4',
        size: 1,
        width: clip.width,
        height: clip.height,
        rotation: 0,
        timeBase: { numerator: 1, denominator: 15360 },
        ticks: { first: 0, runs: [[ticks, clip.frames - 1]] },
        notedCaptureRate: null,
        converted: false,
      }),
      edits.addReference(REFERENCE, [placed(low), placed(high)]),
      edits.changeReference(REFERENCE, { length: clip.reference.length }),
      edits.setAxes({ origin: placed(origin), tilt, tiltError: lineError([line[0], line[1]]) }),
      edits.addBody(
        BODY,
        {
          position: 'c1000000-0000-4000-8000-000000000003',
          velocity: 'c1000000-0000-4000-8000-000000000004',
        },
        'Body',
      ),
      edits.setFollowed(
        BODY,
        Object.fromEntries(
          found.flatMap(({ frame, at, certainty }) => (at ? [[frame, { ...at, certainty }]] : [])),
        ),
      ),
    ])
      mutator(draft)
  }).document
}

/** Returns the readings of a clip's motion, each beside the truth; empty where too little was found for a fit. */
export function clipReadings(clip: RandomClip, found: FollowedFrame[]): MeasuredReading[] {
  try {
    return fittedReadings(clip, found)
  } catch (error) {
    // A person would be told that these marks carry no such fit.
    if (error instanceof FitError) return []
    throw error
  }
}

function fittedReadings(clip: RandomClip, found: FollowedFrame[]): MeasuredReading[] {
  const { motion, rate, width, height, radius } = clip.choices
  const table = analyse(measuredClip(clip, found)).table(BODY)
  // A person leaves out frames in which the body is cut off or at rest.
  const isUsed = ({ frame, truth: { x, y } }: FollowedFrame) =>
    x > radius &&
    y > radius &&
    x < width - radius &&
    y < height - radius &&
    (clip.truth.release === undefined || frame / rate > clip.truth.release + 0.5 / rate)
  const frames = found.filter((one) => one.at && isUsed(one)).map(({ frame }) => frame)
  if (frames.length < 6) return []
  const range = { from: frames[0], to: frames[frames.length - 1] }
  const { truth } = clip
  const along = (quantity: string, model: FitSettings['model']) =>
    fitColumn(table, quantity, range, { model })
  const of = ({ readings }: Pick<ColumnFit, 'readings'>, key: string, value: number): MeasuredReading[] =>
    readings
      .filter((one) => one.key === key)
      .map((one) => ({ key, value: one.value, error: one.error, half: halfWidth(one), truth: value }))
  switch (motion) {
    case 'throw':
    case 'tumble': {
      const fits = fitColumns(
        [
          { table, quantity: 'y', model: 'uniform-acceleration' },
          { table, quantity: 'x', model: 'uniform' },
        ],
        range,
        { model: 'uniform-acceleration' },
      )
      const from = range.from / rate
      const vy = truth.vy0 + truth.ay * from
      const path = { readings: throwReadings(fits) }
      return [
        ...of(fits[0], 'acceleration', truth.ay),
        ...of(fits[1], 'velocity', truth.vx),
        ...of(path, 'throw-speed', Math.hypot(truth.vx, vy)),
        ...of(path, 'throw-angle', (Math.atan2(vy, Math.abs(truth.vx)) * 180) / Math.PI),
      ]
    }
    case 'fall':
      return of(along('y', 'uniform-acceleration'), 'acceleration', truth.ay)
    case 'roll':
    case 'slide':
      return of(along('x', 'uniform-acceleration'), 'acceleration', truth.ax)
    case 'swing':
      return of(along('x', 'damped-swing'), 'omega', truth.omega)
  }
}
