import type { BodyShape } from '@apokinema/core/investigation'

/** Outline of each marker shape in a box from −1 to 1, as an SVG path. */
export const MARKER_PATHS: Record<BodyShape, string> = {
  circle: 'M-1 0A1 1 0 1 1 1 0A1 1 0 1 1 -1 0Z',
  square: 'M-.88-.88H.88V.88H-.88Z',
  triangle: 'M0-1.1L1.05.8H-1.05Z',
  diamond: 'M0-1.2L1.2 0L0 1.2L-1.2 0Z',
  cross: 'M-.4-1.1H.4V-.4H1.1V.4H.4V1.1H-.4V.4H-1.1V-.4H-.4Z',
  star: 'M0-1.25L.36-.4L1.25-.4L.55.2L.8 1.1L0 .58L-.8 1.1L-.55.2L-1.25-.4L-.36-.4Z',
}

/** A body's marker in lists. */
export function Marker({ shape, colour }: { shape: BodyShape; colour: string }) {
  return (
    <svg width="13" height="13" viewBox="-1.3 -1.3 2.6 2.6" aria-hidden="true" style={{ flex: 'none' }}>
      <path d={MARKER_PATHS[shape]} fill={colour} />
    </svg>
  )
}
