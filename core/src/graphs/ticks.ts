import type { Limits } from './limits.ts'

/** Round values between two limits, about as many as are wanted: steps of 1, 2 or 5 times a power of ten. */
export function ticksOf({ from, to }: Limits, isLog: boolean, wanted: number): number[] {
  if (isLog) return logTicks(from, to)
  const rough = (to - from) / wanted
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = power * ([1, 2, 5, 10].find((times) => times * power >= rough * 0.999) ?? 10)
  const ticks: number[] = []
  for (let k = Math.ceil(from / step - 1e-9); k * step <= to + 1e-9 * step; k++)
    ticks.push(Number((k * step).toPrecision(12)))
  return ticks
}

/** Powers of ten, with 2 and 5 times them where there are few. */
function logTicks(from: number, to: number): number[] {
  const [low, high] = [Math.floor(Math.log10(from)), Math.ceil(Math.log10(to))]
  const times = high - low > 3 ? [1] : [1, 2, 5]
  return Array.from({ length: high - low + 1 }, (_, i) => 10 ** (low + i))
    .flatMap((power) => times.map((one) => Number((one * power).toPrecision(12))))
    .filter((tick) => tick >= from * (1 - 1e-9) && tick <= to * (1 + 1e-9))
}
