/** Linear map between seconds and CSS pixels along the strip. */
export interface TimeScale {
  x(time: number): number
  time(x: number): number
  width: number
}

/** Returns a scale that shows `from` … `to` over a width, with a margin at both ends. */
export function timeScale(from: number, to: number, width: number, margin = 14): TimeScale {
  const length = Math.max(to - from, 1e-9)
  const inner = Math.max(1, width - 2 * margin)
  return {
    width,
    x: (time) => margin + ((time - from) / length) * inner,
    time: (x) => from + ((x - margin) / inner) * length,
  }
}

/** Round steps for a ruler: the smallest of 1, 2, 5 · 10ⁿ that keeps labels `room` pixels apart. */
export function rulerStep(scale: TimeScale, room: number): number {
  const least = Math.abs(scale.time(room) - scale.time(0))
  const power = 10 ** Math.floor(Math.log10(least))
  return ([1, 2, 5, 10].find((n) => n * power >= least * (1 - 1e-9)) ?? 10) * power
}
