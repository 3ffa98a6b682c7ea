import { describe, expect, it } from 'vitest'
import type { MotionTable } from '../motion/index.ts'
import { piecesOf } from './pieces.ts'

function piecesAt(times: number[], breaks: number[] = []): number[][] {
  const table = { times: Float64Array.from(times), breaks } as unknown as MotionTable
  return piecesOf(
    { table },
    times.map((_, row) => ({ row })),
  ).map((piece) => piece.map(({ row }) => row))
}

describe('A line through points', () => {
  it('goes through all of them where none is far from the next', () => {
    expect(piecesAt([0, 1, 2, 3, 6, 7])).toEqual([[0, 1, 2, 3, 4, 5]])
  })
  it('ends at a gap, and begins anew behind it', () => {
    expect(piecesAt([0, 1, 2, 8, 9, 10])).toEqual([
      [0, 1, 2],
      [3, 4, 5],
    ])
  })
  it('ends where the motion breaks', () => {
    expect(piecesAt([0, 1, 2, 3], [2])).toEqual([
      [0, 1],
      [2, 3],
    ])
  })
  it('is none without points', () => {
    expect(piecesAt([])).toEqual([])
  })
})
