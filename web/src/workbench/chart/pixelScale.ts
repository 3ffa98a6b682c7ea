import type { Chart, Scale } from 'chart.js'

/** Mapping of values to pixels along an axis: `zero + each × value`, or of their logarithm. */
export interface PixelScale {
  isLog: boolean
  zero: number
  each: number
}

/** Returns an axis as a linear function, which is far faster to apply to thousands of values than the chart's own. */
function pixelScale(scale: Scale): PixelScale {
  const isLog = scale.type === 'logarithmic'
  const [from, to] = isLog ? [Math.log(scale.min), Math.log(scale.max)] : [scale.min, scale.max]
  const first = scale.getPixelForValue(scale.min)
  const each = (scale.getPixelForValue(scale.max) - first) / (to - from)
  return { isLog, zero: first - from * each, each }
}

/** Both axes of a chart, in pixels. */
export class PixelScales {
  readonly x: PixelScale
  readonly y: PixelScale

  constructor({ scales }: Chart) {
    this.x = pixelScale(scales.x)
    this.y = pixelScale(scales.y)
  }

  /** Returns the pixel of a value along x. */
  left(value: number): number {
    return along(this.x, value)
  }

  /** Returns the pixel of a value along y. */
  top(value: number): number {
    return along(this.y, value)
  }
}

const along = ({ isLog, zero, each }: PixelScale, value: number) =>
  zero + each * (isLog ? Math.log(value) : value)
