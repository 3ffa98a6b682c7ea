import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { Rest } from './rest.ts'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

/** Returns true if the work goes on after so many milliseconds. */
async function goesOn(rest: Rest, after: number): Promise<boolean> {
  let isOver = false
  void rest.over().then(() => {
    isOver = true
  })
  await vi.advanceTimersByTimeAsync(after)
  return isOver
}

describe('work that nobody waits for', () => {
  it('goes on at once where no hand is at work', async () => {
    expect(await goesOn(new Rest(), 0)).toBe(true)
  })

  it('rests for as long as it is held, each time from then on', async () => {
    const rest = new Rest()
    rest.hold(500)
    expect(await goesOn(rest, 450)).toBe(false)
    rest.hold(500)
    expect(await goesOn(rest, 450)).toBe(false)
    expect(await goesOn(rest, 200)).toBe(true)
  })
})
