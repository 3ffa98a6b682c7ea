import type { GraphDescription, Limits } from '@apokinema/core/graphs'
import type { ChartData, ChartOptions } from 'chart.js'
import { PAINT } from '../../theme/system.ts'

const MONO = { family: "'JetBrains Mono Variable'", size: 12 }
/** The room at the left of every graph: the same, so that their time axes are in line. */
export const LEFT = 64
const RIGHT = 18
/** Width of a digit. */
const DIGIT = 7.2

/** The chart draws scales and grid; points are drawn over it (see `drawPoints`). */
export const NO_DATA: ChartData<'scatter'> = { datasets: [] }

/**
 * How the canvas is laid out and scaled.
 *
 * @param taken pixels at the right end of the horizontal axis in which its name stands, not its numbers
 */
export function optionsOf(
  { across, up, isTime }: GraphDescription,
  limits: { across: Limits; up: Limits },
  grid: boolean,
  taken: () => number,
): ChartOptions<'scatter'> {
  const lines = grid ? '#ECE8DE' : 'transparent'
  const zero = (value: number | undefined) => (value === 0 ? '#BFC4B2' : lines)
  const written = (value: string | number) => String(Number(Number(value).toPrecision(6))).replace('-', '−')
  const ticks = { font: MONO, color: PAINT.inkMuted, callback: written }
  return {
    animation: false,
    parsing: false,
    responsive: true,
    maintainAspectRatio: false,
    layout: { padding: { top: 8, right: RIGHT } },
    events: [],
    scales: {
      x: {
        type: across.log ? 'logarithmic' : 'linear',
        min: limits.across.from,
        max: limits.across.to,
        grid: isTime ? { display: false } : { color: (context) => zero(context.tick?.value) },
        border: { color: PAINT.line },
        ticks: {
          ...ticks,
          maxRotation: 0,
          includeBounds: false,
          callback(value) {
            const text = written(value)
            const end = this.getPixelForValue(Number(value)) + (text.length * DIGIT) / 2
            return end > this.chart.width - taken() ? '' : text
          },
        },
      },
      y: {
        type: up.log ? 'logarithmic' : 'linear',
        min: limits.up.from,
        max: limits.up.to,
        grid: { color: (context) => zero(context.tick?.value) },
        border: { display: false },
        ticks: { ...ticks, maxTicksLimit: 6, includeBounds: false },
        afterFit: (scale) => {
          scale.width = LEFT
        },
      },
    },
  }
}
