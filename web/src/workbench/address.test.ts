import { edit, edits, newInvestigation } from '@apokinema/core/investigation'
import { describe, expect, it } from 'vitest'
import { addressOf, isStep, readAddress } from './address.ts'

const [body, other, graph, second, stretch] = Array.from(
  { length: 5 },
  (_, i) => `00000000-0000-4000-8000-00000000000${i}`,
)
const investigation = edit(newInvestigation('a throw'), (draft) => {
  draft.footage = {
    ...({ id: 'f', name: 'throw.mp4', size: 1, width: 640, height: 360, rotation: 0 } as const),
    ...({ timeBase: { numerator: 1, denominator: 600 }, notedCaptureRate: null, converted: false } as const),
    ticks: { first: 0, runs: [[20, 99]] },
  }
  edits.addBody(body, { position: graph, velocity: second }, 'float')(draft)
  edits.addBody(other, { position: crypto.randomUUID(), velocity: crypto.randomUUID() }, 'buoy')(draft)
  edits.setSpan({ first: 10, last: 90, every: 1 })(draft)
  edits.addStretch(stretch, graph, 20, 40)(draft)
}).document

describe('the address', () => {
  it('says nothing of what is as it was when the investigation was opened', () => {
    expect(addressOf({ frame: 10, body: null, selection: null }, investigation)).toBe('')
  })

  it('leads back to the frame, the body and the stretch that it was made of', () => {
    const seen = { frame: 42, body, selection: { kind: 'stretch', id: stretch } } as const
    expect(readAddress(addressOf(seen, investigation), investigation)).toEqual({ frame: 42, body, stretch })
  })

  it.each([
    ['?frame=-1'],
    ['?frame=100'],
    ['?frame=1e9'],
    ['?frame=4.5'],
    ['?frame='],
    ['?body=nobody'],
    ['?body=__proto__&stretch=constructor'],
    [`?stretch=${body}`],
    ['?%'],
    ['no address'],
  ])('that means nothing here is left alone: %s', (search) => {
    expect(readAddress(search, investigation)).toEqual({ frame: null, body: null, stretch: null })
  })

  it('is a step to come back from where another body or stretch is seen, not another frame', () => {
    const at = (frame: number, id: string | null) =>
      addressOf({ frame, body: id, selection: null }, investigation)
    expect(isStep(at(11, body), at(12, body))).toBe(false)
    expect(isStep(at(11, null), at(11, body))).toBe(false)
    expect(isStep(at(11, body), at(30, other))).toBe(true)
  })
})
