import type { Matrix2, Point, SceneTransform } from '../geometry/index.ts'
import { errorShares } from './markCorrelation.ts'

/** A second point of a body in the scene. */
interface PlacedSecond {
  place: Point
  jacobian: Matrix2
}

/** A body's marks with their calibration applied, one a row. In lists, since there can be very many. */
export class PlacedMarks {
  private readonly x: Float64Array
  private readonly y: Float64Array
  private readonly jacobians: Matrix2[] = []
  private readonly seconds = new Map<number, PlacedSecond>()
  /** Of each row along each direction, in pixels. */
  private readonly errors: Float64Array

  /**
   * @param at how the picture of a frame maps to the scene
   * @param marks in the frames, in pixels
   * @param seconds the body's second points, by frame
   * @param errorAt standard error of a frame's mark along each direction, in pixels
   * @param correlation of the errors of marks in neighbouring frames
   */
  constructor(
    readonly frames: readonly number[],
    at: (frame: number) => SceneTransform,
    marks: readonly Point[],
    seconds: Readonly<Record<number, Point>>,
    errorAt: (frame: number) => number,
    readonly correlation: number,
  ) {
    this.x = new Float64Array(frames.length)
    this.y = new Float64Array(frames.length)
    this.errors = new Float64Array(frames.length)
    for (let row = 0; row < frames.length; row++) {
      const frame = frames[row]
      const { toScene, jacobian } = at(frame)
      const place = toScene(marks[row])
      this.x[row] = place.x
      this.y[row] = place.y
      this.errors[row] = errorAt(frame)
      this.jacobians.push(jacobian(marks[row]))
      const second = seconds[frame]
      if (second) this.seconds.set(row, { place: toScene(second), jacobian: jacobian(second) })
    }
  }

  get count(): number {
    return this.frames.length
  }

  get hasSeconds(): boolean {
    return this.seconds.size > 0
  }

  place(row: number): Point {
    return { x: this.x[row], y: this.y[row] }
  }

  second(row: number): Point | null {
    return this.seconds.get(row)?.place ?? null
  }

  /**
   * Returns how a number goes with one of a row's errors, by its number, where it goes so with the place and the second place
   * in the scene: by one standard error along x and y of the picture (0 and 1), and of the second point (2 and 3).
   */
  sensitivity(row: number, slopes: readonly number[], which: number): number {
    const isFirst = which < 2
    const second = isFirst ? null : this.seconds.get(row)
    if (!isFirst && (!second || slopes.length < 4)) return 0
    const [alongX, alongY] = second ? second.jacobian : this.jacobians[row]
    const from = isFirst ? 0 : 2
    const side = which % 2
    return this.errors[row] * (alongX[side] * slopes[from] + alongY[side] * slopes[from + 1])
  }

  /** Shares of independent errors in the error of a row: of its own, of that of the row before it, and so on. */
  errorShares(row: number): number[] {
    return errorShares(this.frames, row, this.correlation)
  }

  /** Returns the standard error of a number that goes so with a row's place and second place. */
  error(row: number, slopes: readonly number[]): number {
    let variance = 0
    for (let which = 0; which < slopes.length; which++) {
      const sensitivity = this.sensitivity(row, slopes, which)
      variance += sensitivity * sensitivity
    }
    return Math.sqrt(variance)
  }

  /** Returns the change of a number that goes so with a row's place where its mark moves by a pixel along each direction, as the root of the sum of squares. */
  perPixel(row: number, [alongX, alongY]: readonly number[]): number {
    const [[a, b], [c, d]] = this.jacobians[row]
    return Math.hypot(a * alongX + c * alongY, b * alongX + d * alongY)
  }

  /** Variance of a row's place along any direction, on the average over them. */
  variance(row: number): number {
    const [[a, b], [c, d]] = this.jacobians[row]
    return (this.errors[row] ** 2 * (a * a + b * b + c * c + d * d)) / 2
  }
}
