import type { AxisDescription } from '@apokinema/core/graphs'
import { Chart, type ChartItem } from 'chart.js'
import { describe, expect, it } from 'vitest'
import { PRINTED } from '../../theme/look.ts'
import { graphOptions } from './graphChart.ts'

const [WIDTH, HEIGHT] = [600, 300]
/** Width of a character, in pixels. */
const CHARACTER = 7.2

/** Returns a canvas on which nothing is drawn, for charts that are only laid out. */
function bareCanvas(): ChartItem {
  const context: object = new Proxy(
    {},
    {
      get: (_, name) => {
        if (name === 'canvas') return canvas
        return (text: string) => (name === 'measureText' ? { width: CHARACTER * text.length } : undefined)
      },
    },
  )
  const canvas = { width: WIDTH, height: HEIGHT, getContext: () => context }
  return canvas as unknown as ChartItem
}

/** Returns the labels of the x axis, and where each ends, in pixels from the left. */
function labels({ taken = 0, from = 0, log = false }): { text: string; end: number }[] {
  const axis = { log } as AxisDescription
  const limits = { x: { from, to: 0.31 }, y: { from: 0, to: 1 } }
  const options = graphOptions({ x: axis, y: axis, isTime: true }, limits, true, {
    look: PRINTED,
    taken: () => taken,
  })
  const chart = new Chart(bareCanvas(), {
    type: 'markers',
    data: { datasets: [] },
    options: { ...options, responsive: false },
  })
  const { x } = chart.scales
  return x.ticks.map(({ label, value }) => {
    const text = String(label)
    return { text, end: x.getPixelForValue(value) + (CHARACTER * text.length) / 2 }
  })
}

describe('the labels of the x axis', () => {
  it('leave free what the name of the axis takes at its end', () => {
    const all = labels({})
    expect(all.map(({ text }) => text)).toEqual(['0', '0.05', '0.1', '0.15', '0.2', '0.25', '0.3'])
    for (const taken of [30, 60, 100, 200])
      expect(labels({ taken }).map(({ text }) => text)).toEqual(
        all.map(({ text, end }) => (end > WIDTH - taken ? '' : text)),
      )
  })

  it('leave it free on a logarithmic axis, too', () => {
    const logarithmic = { from: 0.001, log: true }
    const all = labels(logarithmic).filter(({ text }) => text)
    expect(all.map(({ text }) => text)).toEqual(expect.arrayContaining(['0.001', '0.01', '0.1']))
    for (const taken of [60, 200]) {
      const shown = labels({ ...logarithmic, taken }).filter(({ text }) => text)
      expect(shown).toEqual(all.filter(({ end }) => end <= WIDTH - taken))
      expect(shown.length).toBeLessThan(all.length)
    }
  })
})
