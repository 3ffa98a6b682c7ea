import { array, boolean, number, object, string } from 'yup'
import { READOUT_DIRECTIONS, REPEAT_USES } from '../../time/index.ts'
import { LIMITS } from '../limits.ts'
import { byId, finite, frame, goTogether, isFrame, rate, seconds, title, uuid, whole } from './fields.ts'

export const footage = object({
  id: uuid(),
  name: title(255),
  size: whole(0, Number.MAX_SAFE_INTEGER),
  width: whole(1, 65536),
  height: whole(1, 65536),
  timeBase: object({ numerator: whole(1, 1e9), denominator: whole(1, 1e9) })
    .noUnknown()
    .strict()
    .required(),
  ticks: object({
    first: whole(Number.MIN_SAFE_INTEGER, Number.MAX_SAFE_INTEGER),
    runs: array()
      .strict()
      .required()
      .max(LIMITS.runs)
      .test('runs', '${path} must be pairs of a positive step and a count', (runs) => {
        const pairs = runs as unknown[]
        let frames = 1
        for (const pair of pairs) {
          if (!Array.isArray(pair) || pair.length !== 2) return false
          const [step, count] = pair as [unknown, unknown]
          if (!Number.isSafeInteger(step) || (step as number) <= 0) return false
          if (!Number.isSafeInteger(count) || (count as number) <= 0) return false
          frames += count as number
          if (frames > LIMITS.frames) return false
        }
        return true
      }),
  })
    .noUnknown()
    .strict()
    .required(),
  rotation: whole(0, 270).oneOf([0, 90, 180, 270]),
  notedCaptureRate: rate().nullable().defined(),
  converted: boolean().strict().required(),
})
  .noUnknown()
  .strict()

export const orientation = object({ mirrored: boolean().strict().required(), quarterTurns: whole(0, 3) })
  .noUnknown()
  .strict()
  .required()

const captureRate = object({
  order: finite(),
  from: frame().nullable().defined(),
  to: frame().nullable().defined(),
  rate: rate().nullable().defined(),
  known: object({ from: frame().required(), to: frame().required(), seconds: seconds().required() })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined)
    .test(
      'order',
      '${path} must go from an earlier to a later frame',
      goTogether((known) => !known || known.from < known.to),
    ),
})
  .noUnknown()
  .strict()
  .test(
    'one',
    '${path} must state either a rate or a known time',
    goTogether(({ rate, known }) => (rate === null) !== (known === null)),
  )

const repeats = object({
  frames: array()
    .strict()
    .required()
    .max(LIMITS.runs)
    .test('increasing', '${path} must be increasing frames', (frames) =>
      Array.from(frames as unknown[]).every(
        (at, i, all) => isFrame(at) && at > (i > 0 ? (all[i - 1] as number) : 0),
      ),
    ),
  use: string().strict().required().oneOf(REPEAT_USES),
  originalRate: rate().nullable().defined(),
})
  .noUnknown()
  .strict()
  .nullable()
  .defined()
  .default(undefined)

export const timing = object({
  constantRate: rate().nullable().defined(),
  rateError: number().strict().nullable().defined().min(0).max(1),
  zero: frame().nullable().defined(),
  capture: byId(captureRate, LIMITS.captureRates),
  readout: object({
    seconds: number().strict().required().min(0).max(1),
    towards: string().strict().required().oneOf(READOUT_DIRECTIONS),
  })
    .noUnknown()
    .strict()
    .nullable()
    .defined()
    .default(undefined),
  repeats,
})
  .noUnknown()
  .strict()
  .required()
