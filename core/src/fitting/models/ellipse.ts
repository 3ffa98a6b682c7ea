import { sum } from './formula.ts'
import type { LoopLaw, Model } from './model.ts'
import { middleOfEnds } from './starts.ts'

/** The phase plot of a swing: ((x − x_m)/A)² + ((y − y_m)/B)² = 1. */
export const ellipse: Model = {
  id: 'ellipse',
  name: 'Ellipse',
  group: 'swinging',
  law: () => null,
  loop: ({ isRateOf }): LoopLaw => {
    const width = { symbol: 'A', subscript: '', dimension: { along: 1 } }
    const height = { symbol: 'B', subscript: '', dimension: { value: 1 } }
    const omega = { symbol: 'ω', subscript: '', dimension: { value: 1, along: -1, angle: 1 } }
    return {
      parameters: [
        { symbol: 'x', subscript: 'm', name: 'middle across', dimension: { along: 1 } },
        { symbol: 'y', subscript: 'm', name: 'middle up', dimension: { value: 1 } },
        { ...width, name: 'semi-axis across' },
        { ...height, name: 'semi-axis up' },
      ],
      readings: [
        ...(isRateOf
          ? [
              {
                ...omega,
                key: 'omega',
                name: 'Angular frequency',
                of: ([, , a, b]: readonly number[]) => Math.abs(b / a),
              },
              {
                key: 'period',
                name: 'Period',
                symbol: 'T',
                subscript: '',
                dimension: { value: -1, along: 1 },
                of: ([, , a, b]: readonly number[]) => 2 * Math.PI * Math.abs(a / b),
              },
            ]
          : []),
        { ...width, key: 'width', name: 'Semi-axis across', of: ([, , a]) => Math.abs(a) },
        { ...height, key: 'height', name: 'Semi-axis up', of: ([, , , b]) => Math.abs(b) },
      ],
      formula: ([x, y, a, b], along, value) =>
        `${sum(`\\left(\\frac{${along} - ${x}}{${a}}\\right)^{2}`, `\\left(\\frac{${value} - ${y}}{${b}}\\right)^{2}`)} = 1`.replaceAll(
          '- -',
          '+ ',
        ),
      begin: (x, y) => {
        const [horizontal, vertical] = [middleOfEnds(x), middleOfEnds(y)]
        return [horizontal.middle, vertical.middle, horizontal.reach, vertical.reach]
      },
      evaluate: (x, y, parameters) => {
        const [cx, cy, a, b] = Array.from(parameters)
        const [u, v] = [(x - cx) / a, (y - cy) / b]
        return {
          value: u * u + v * v - 1,
          byX: (2 * u) / a,
          byY: (2 * v) / b,
          secondX: 2 / (a * a),
          secondY: 2 / (b * b),
          byParameters: [(-2 * u) / a, (-2 * v) / b, (-2 * u * u) / a, (-2 * v * v) / b],
        }
      },
      trace: (parameters, turn) => {
        const [cx, cy, a, b] = Array.from(parameters)
        return { x: cx + a * Math.cos(turn), y: cy + b * Math.sin(turn) }
      },
    }
  },
}
