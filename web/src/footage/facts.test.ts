import { describe, expect, it } from 'vitest'
import { captureRateOf } from './facts.ts'
import { isStill, isZip, looksConvertible } from './files.ts'

const float = (value: number) => {
  const bytes = new Uint8Array(4)
  new DataView(bytes.buffer).setFloat32(0, value)
  return bytes
}

describe('a camera’s note of its capture rate', () => {
  const noted = (value: unknown) => captureRateOf({ raw: { 'com.android.capture.fps': value } })

  it('is a float or its digits', () => {
    expect(noted(float(240))).toBe(240)
    expect(noted(float(119.88))).toBeCloseTo(119.88, 3)
    expect(noted('960.000000')).toBe(960)
  })

  it.each([
    ['nothing', undefined],
    ['an empty note', ''],
    ['a rate that is none', '0'],
    ['words', 'fast'],
    ['too few bytes', new Uint8Array(2)],
    ['beyond any camera', '1e9'],
  ])('is none for %s', (_, value) => {
    expect(noted(value)).toBeNull()
    expect(captureRateOf({})).toBeNull()
  })
})

describe('a file', () => {
  const blob = (...parts: (string | number[])[]) =>
    new Blob(parts.map((part) => (typeof part === 'string' ? part : new Uint8Array(part))))

  it.each<[string, Blob]>([
    ['AVI', blob('RIFF', [0, 0, 0, 0], 'AVI LIST')],
    ['WMV', blob([0x30, 0x26, 0xb2, 0x75, 0x8e, 0x66, 0xcf, 0x11])],
    ['MPEG-TS', blob([0x47, ...Array(187).fill(0), 0x47])],
    ['a camcorder’s MPEG-TS', blob([0, 0, 0, 0, 0x47, ...Array(191).fill(0), 0x47])],
    ['GIF', blob('GIF89a')],
    ['MPEG', blob([0, 0, 1, 0xba])],
  ])('of %s can be converted', async (_, file) => {
    expect(await looksConvertible(file)).toBe(true)
  })

  it.each<[string, Blob]>([
    ['text', blob('Gulls over the harbour')],
    ['sound', blob('RIFF', [0, 0, 0, 0], 'WAVEfmt ')],
    ['nothing', blob()],
    ['a still', blob([0x89], 'PNG')],
  ])('of %s can’t', async (_, file) => {
    expect(await looksConvertible(file)).toBe(false)
  })

  it('is known as a ZIP by its beginning, as a still by its name', async () => {
    expect(await isZip(blob('PK', [3, 4, 0]))).toBe(true)
    expect(await isZip(blob('PK is no beginning'))).toBe(false)
    expect(isStill({ name: 'quay 12.JPEG' } as File)).toBe(true)
    expect(isStill({ name: 'quay.mp4' } as File)).toBe(false)
  })
})
