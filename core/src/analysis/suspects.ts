import type { Range } from '../motion/index.ts'

/** A value with its standard error. */
export interface Measured {
  value: number
  error: number
  unit: string
}

/** How large a cause would have to be; factors are what lengths or times would have to be multiplied by. */
export type SuspectSize =
  | { code: 'lengths'; factor: number }
  /** Lengths in metres. */
  | { code: 'reference'; name: string; needed: number; stated: number }
  | { code: 'playback'; factor: number }
  | ({ code: 'without-ends'; ends: 'start' | 'end' | 'both' } & Measured)
  | { code: 'far-mark' }
  | ({ code: 'without-frame'; frame: number } & Measured)
  | { code: 'tilt-only-reduces' }
  /** Radians. */
  | { code: 'tilt-angle'; angle: number }
  | { code: 'ruler-depth'; factor: number }
  /** From the top row to the bottom row; negative the other way round. */
  | { code: 'readout-time'; seconds: number }
  | { code: 'drag-share'; factor: number }
  | { code: 'drag-only-reduces' }
  | { code: 'blur-shift' }

/** Why the data speak for a cause, or against it. */
export type SuspectReason =
  /** Metres. */
  | { code: 'round-length'; length: number }
  /** Frames per second. */
  | { code: 'capture-rate-unset'; rate: number }
  | { code: 'outlier-offset'; frame: number; offset: number; unit: string }
  | ({ code: 'other-axis-disagrees'; isLess: boolean } & Measured)
  | {
      code:
        | 'check-agrees'
        | 'check-disagrees'
        | 'mixed-units'
        | 'too-large-a-slip'
        | 'scale-unknown'
        | 'clock-better'
        | 'no-such-rate'
        | 'other-motion'
        | 'ends-agree'
        | 'no-outlier'
        | 'only-smaller'
        | 'tilt-visible'
        | 'other-axis-unknown'
        | 'other-axis-agrees'
        | 'depth-visible'
        | 'depth-unknown'
        | 'readout-too-long'
        | 'readout-typical'
        | 'reading-too-large'
        | 'drag-seen'
        | 'drag-not-seen'
        | 'drag-unknown'
        | 'blur-no-rate'
    }

/** What may be behind a reading that misses what is expected; `suspects.ts` in `words` has the sentences. */
export interface Suspect {
  cause: 'scale' | 'slow-motion' | 'stretch' | 'outlier' | 'tilt' | 'depth' | 'readout' | 'drag' | 'blur'
  size: SuspectSize
  /** Whether the data speak for it. */
  support: 'for' | 'open' | 'against'
  why: SuspectReason
  /** Where it would be corrected; null where there is nothing to correct. */
  place: 'scale' | 'capture-rate' | 'stretch' | 'axes' | 'read-out' | null
  /** Frame to go to, and frames that the stretch would be cut to. */
  frame?: number
  range?: Range
}
