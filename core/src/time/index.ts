export { type FrameTimes, frameAt, frameTimes, nearestFrame } from './frameTimes.ts'
export { clampSpan, inSpan, type Span, spanFrames, stepInSpan } from './span.ts'
export { decodeTicks, encodeTicks, type FrameTicks, frameCount, type TimeBase } from './ticks.ts'
