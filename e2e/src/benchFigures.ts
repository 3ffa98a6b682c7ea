/** How benchmarks sum up and print what they measure. */

export const milliseconds = (value: number) => `${value.toFixed(value < 10 ? 1 : 0)} ms`

/** Returns the value below which a share `q` of the values lies; 0 of none. */
export const quantile = (values: number[], q: number) =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(q * values.length))] ?? 0

export const spread = (values: number[]) =>
  `median ${milliseconds(quantile(values, 0.5))}, p95 ${milliseconds(quantile(values, 0.95))}`

/** Returns the milliseconds of a calculation that is always the same: how fast the machine is just now, to compare tables by. */
export function machineTime(): number {
  const began = performance.now()
  let sum = 0
  for (let i = 0; i < 5e7; i++) sum += Math.sqrt(i % 1000)
  return sum > 0 ? performance.now() - began : 0
}
