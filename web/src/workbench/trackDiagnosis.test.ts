import { edit, edits, type Investigation } from '@apokinema/core/investigation'
import type { TrackDiagnosis } from '@apokinema/core/motion'
import { THROWN, thrown } from '@apokinema/core/testing/thrown'
import { expect, it, vi } from 'vitest'
import { trackDiagnosis } from './trackDiagnosis.ts'

const { asked } = vi.hoisted(() => ({
  asked: [] as { marks: number; answer: (diagnosis: TrackDiagnosis) => void }[],
}))

vi.stubGlobal('Worker', class {})
vi.mock('comlink', () => ({
  wrap: () => ({
    diagnoseTrack: (body: Investigation['bodies'][string]) =>
      new Promise((answer) => {
        asked.push({ marks: Object.keys(body.marks).length, answer })
      }),
  }),
}))

/** Returns a diagnosis that can be told from others. */
const diagnosis = (frame: number): TrackDiagnosis => ({ outliers: [], breaks: [frame], jumps: [] })

it('diagnoses few marks at once, and of many in a worker the last state that was asked for', async () => {
  const few = thrown({ frames: 60 })
  expect((await trackDiagnosis(few, THROWN.body)).outliers).toEqual([])
  expect(asked).toHaveLength(0)

  const states = [thrown({ frames: 1600 })]
  for (const frame of [7, 8])
    states.push(edit(states[states.length - 1], edits.removeMark(THROWN.body, frame)).document)
  const answers = states.map((state) => trackDiagnosis(state, THROWN.body))
  await vi.waitFor(() => expect(asked).toHaveLength(1))
  asked[0].answer(diagnosis(1))
  await vi.waitFor(() => expect(asked).toHaveLength(2))
  expect(asked[1].marks).toBe(1598)
  asked[1].answer(diagnosis(2))
  expect(await Promise.all(answers)).toEqual([diagnosis(2), diagnosis(2), diagnosis(2)])
  expect(asked).toHaveLength(2)

  // What is known is not asked for again.
  expect(await trackDiagnosis(states[2], THROWN.body)).toEqual(diagnosis(2))
  expect(asked).toHaveLength(2)
})
