export { aperiodicPlace } from './aperiodic.ts'
export {
  type CaptureRate,
  type Clock,
  COMMON_CAPTURE_RATES,
  estimatedRateError,
  fileTiming,
  leftOutFrames,
  READOUT_DIRECTIONS,
  REPEAT_USES,
  type Readout,
  type ReadoutDirection,
  type Repeats,
  type RepeatUse,
  readoutOfEdge,
  realClock,
  rowDelay,
  type Timing,
} from './clock.ts'
export { MAD_TO_DEVIATION, median, robustDeviation, unevenFrames } from './flags.ts'
export { type FrameTimes, frameAt, frameTimes, nearestFrame } from './frameTimes.ts'
export { clampSpan, proposedStep, type Span, type UsedFrames, usedFrames } from './span.ts'
export { decodeTicks, encodeTicks, type FrameTicks, frameCount, type TimeBase } from './ticks.ts'
