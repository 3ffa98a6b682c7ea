import { fixed } from '@apokinema/core/units'
import { memo } from 'react'
import { COLOUR } from '../../theme/palettes.ts'
import { rulerStep, type TimeScale } from './timeScale.ts'

export const RULER_HEIGHT = 20

/** Seconds along the top, with a tick at every frame's time where there is space, and a flag on irregular frames. */
export const Ruler = memo(function Ruler({
  scale,
  zero,
  seconds,
  flags,
  repeats,
}: {
  scale: TimeScale
  zero: number
  seconds: Float64Array
  /** Frames that come early or late. */
  flags: number[]
  /** Frames that repeat the picture before them. */
  repeats: number[]
}) {
  const step = rulerStep(scale, 70)
  const decimals = Math.max(0, -Math.floor(Math.log10(step) + 1e-9))
  const first = Math.ceil(-zero / step - 1e-9)
  const last = Math.floor((seconds.at(-1)! - zero) / step + 1e-9)
  const room = scale.width / seconds.length
  return (
    <svg
      width={scale.width}
      height={RULER_HEIGHT}
      style={{ position: 'absolute', left: 0, top: 0 }}
      aria-hidden="true"
    >
      {repeats
        .filter((frame) => frame < seconds.length)
        .map((frame) => (
          <rect
            key={`repeat${frame}`}
            x={scale.x(seconds[frame] - zero) - 1}
            y={RULER_HEIGHT - 7}
            width={2}
            height={7}
            fill={COLOUR.saffronText}
            data-repeat={frame}
          />
        ))}
      {room > 3 &&
        Array.from(seconds, (time) => (
          <line
            key={time}
            x1={scale.x(time - zero)}
            x2={scale.x(time - zero)}
            y1={RULER_HEIGHT - 4}
            y2={RULER_HEIGHT}
            stroke={COLOUR.line}
          />
        ))}
      {Array.from({ length: Math.max(0, last - first + 1) }, (_, i) => (first + i) * step).map((time, i) => (
        <g key={fixed(time, 6)}>
          <line x1={scale.x(time)} x2={scale.x(time)} y1={3} y2={RULER_HEIGHT} stroke={COLOUR.outline} />
          <text
            x={scale.x(time) + 4}
            y={12}
            fontSize="11.5"
            fill={COLOUR.inkMuted}
            fontFamily="'JetBrains Mono Variable'"
          >
            {fixed(time, decimals)}
            {i === 0 ? ' s' : ''}
          </text>
        </g>
      ))}
      {flags.map((frame) => (
        <path
          key={`flag${frame}`}
          d={`M${scale.x(seconds[frame] - zero)} ${RULER_HEIGHT}v-11h7l-2 3 2 3h-7`}
          fill={COLOUR.alarm}
          stroke={COLOUR.alarm}
          data-flag={frame}
        />
      ))}
    </svg>
  )
})
