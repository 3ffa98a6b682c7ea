import type { LoopLaw, Model } from './model.ts'
import { middleOfEnds } from './starts.ts'

/**
 * The phase plot of a pendulum of any amplitude, angular velocity against angle, by its energy:
 * (θ̇/2ω₀)² + sin²((θ − θ_m)/2) = sin²(θ̂/2).
 */
export const pendulumLoop: Model = {
  id: 'pendulum-loop',
  name: 'Pendulum’s loop',
  group: 'swinging',
  law: () => null,
  loop: ({ isRateOf, isAngle }): LoopLaw | null => {
    if (!isRateOf || !isAngle) return null
    const omega = { symbol: 'ω', subscript: '0', dimension: { value: 1 } }
    const widest = { symbol: 'θ', subscript: 'max', dimension: { along: 1 } }
    return {
      parameters: [
        { symbol: 'θ', subscript: 'm', name: 'angle at rest', dimension: { along: 1 } },
        { ...widest, name: 'amplitude' },
        { ...omega, name: 'angular frequency at a small amplitude' },
      ],
      readings: [
        { ...omega, key: 'omega', name: 'Angular frequency, small swings', of: ([, , w]) => Math.abs(w) },
        {
          key: 'period',
          name: 'Period, small swings',
          symbol: 'T',
          subscript: '0',
          dimension: { value: -1, along: 1 },
          of: ([, , w]) => (2 * Math.PI) / Math.abs(w),
        },
        { ...widest, key: 'amplitude', name: 'Amplitude', of: ([, m]) => Math.abs(m) },
      ],
      formula: ([middle, amplitude, w], along, value) =>
        `\\left(\\frac{${value}}{2\\cdot ${w}}\\right)^{2} + \\sin^{2}\\tfrac{${along} - ${middle}}{2} = \\sin^{2}\\tfrac{${amplitude}}{2}`.replaceAll(
          '- -',
          '+ ',
        ),
      begin: (x, y) => {
        const [horizontal, vertical] = [middleOfEnds(x), middleOfEnds(y)]
        const amplitude = Math.min(3, horizontal.reach)
        return [horizontal.middle, amplitude, vertical.reach / (2 * Math.sin(amplitude / 2))]
      },
      evaluate: (x, y, parameters) => {
        const [middle, amplitude, w] = Array.from(parameters)
        const u = y / (2 * w)
        return {
          value: u * u + Math.sin((x - middle) / 2) ** 2 - Math.sin(amplitude / 2) ** 2,
          byX: Math.sin(x - middle) / 2,
          byY: u / w,
          secondX: Math.cos(x - middle) / 2,
          secondY: 1 / (2 * w * w),
          byParameters: [-Math.sin(x - middle) / 2, -Math.sin(amplitude) / 2, (-2 * u * u) / w],
        }
      },
      trace: (parameters, turn) => {
        const [middle, amplitude, w] = Array.from(parameters)
        // Even in what both terms are made of, so that the curve is whole at its ends.
        const most = Math.sin(amplitude / 2)
        return { x: middle + 2 * Math.asin(most * Math.cos(turn)), y: 2 * w * most * Math.sin(turn) }
      },
    }
  },
}
