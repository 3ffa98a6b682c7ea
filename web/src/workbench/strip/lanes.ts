/** Height of a body's or a landmark's row in the strip, in pixels. */
export const LANE_HEIGHT = 24
