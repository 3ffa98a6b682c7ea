import { expect, test } from 'vitest'
import { slopeUnit } from './index.ts'

const PURE = { mass: 0, length: 0, time: 0, angle: 0 }

test('the unit of a slope is the unit of what changes, for each second', () => {
  const speed = { ...PURE, length: 1, time: -1 }
  const energy = { ...PURE, mass: 1, length: 2, time: -2 }
  expect(slopeUnit({ dimension: speed, unit: 'cm/s' }, 'cm')).toBe('cm/s²')
  expect(slopeUnit({ dimension: energy, unit: 'J' }, 'cm')).toBe('W')
  expect(slopeUnit({ dimension: PURE, unit: '' }, 'm')).toBe('1/s')
  expect(slopeUnit({ dimension: speed, unit: 'km/h' }, 'm')).toBe('km/h/s')
})
