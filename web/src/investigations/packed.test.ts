import { PACKED_ENTRY, packedTexts } from '@apokinema/core/formats'
import { edit, edits, newInvestigation } from '@apokinema/core/investigation'
import { randomSource } from '@apokinema/core/random'
import { IS_SLOW } from '@apokinema/core/testing/extent'
import { strToU8, zipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { unpacked, whyNotUnpacked } from './packed.ts'

const filmed = edit(
  newInvestigation('Net float'),
  edits.setFootage({
    id: 'f3000000-0000-4000-8000-000000000001',
    name: 'throw.mp4',
    size: 3,
    width: 1280,
    height: 720,
    rotation: 0,
    timeBase: { numerator: 1, denominator: 15360 },
    ticks: { first: 0, runs: [[256, 59]] },
    notedCaptureRate: null,
    converted: false,
  }),
).document
const { document } = edit(
  filmed,
  edits.appendBlocks([
    ['f3000000-0000-4000-8000-000000000002', { kind: 'equation', tex: '\\frac{F}{N}' }],
    ['f3000000-0000-4000-8000-000000000003', { kind: 'question', question: 'Why?', answer: [] }],
  ]),
)

const zipped = (entries: Record<string, string | Uint8Array>) =>
  new Blob([
    new Uint8Array(
      zipSync(
        Object.fromEntries(
          Object.entries(entries).map(([name, body]) => [
            name,
            typeof body === 'string' ? strToU8(body) : body,
          ]),
        ),
      ),
    ),
  ])
const whole = (change: object = {}) => {
  const { entries } = packedTexts(document, true, () => 'readme')
  const main = JSON.parse(entries[0].text) as object
  return JSON.stringify({ ...main, ...change })
}
const footage = new Uint8Array([1, 2, 3])

describe('an investigation in one file', () => {
  it('is read with its footage, whatever else is in the ZIP', async () => {
    const found = await unpacked(
      zipped({
        [PACKED_ENTRY]: whole(),
        'footage/throw.mp4': footage,
        'footage/other.mp4': footage,
        'README.txt': 'y',
      }),
    )
    expect(found?.packed.document).toEqual(document)
    expect(found?.footage?.name).toBe('throw.mp4')
    expect(new Uint8Array(await found!.footage!.arrayBuffer())).toEqual(footage)
  })

  it('opens without its footage where that is missing', async () => {
    expect((await unpacked(zipped({ [PACKED_ENTRY]: whole() })))?.footage).toBeNull()
  })

  it('is something else where the ZIP has no such entry at its top', async () => {
    expect(await unpacked(zipped({ '1.png': footage, [`folder/${PACKED_ENTRY}`]: whole() }))).toBeNull()
  })

  it.each([
    ['no JSON', '{', /damaged/],
    ['another format', '{"format":"x"}', /no-investigation/],
    ['nothing', 'null', /no-investigation/],
    ['a newer packing', whole({ version: 99 }), /"newer"/],
    ['a newer document', whole({ document: { ...document, version: 99 } }), /newer Apokinema/],
    ['a document that is none', whole({ document: { ...document, bodies: { a: 1 } } }), /damaged/],
  ])('with %s is refused with a sentence', async (_, text, says) => {
    await expect(unpacked(zipped({ [PACKED_ENTRY]: text }))).rejects.toThrow(says)
  })

  it('with an entry that leads out of its folder is refused', async () => {
    const file = zipped({ [PACKED_ENTRY]: whole(), '../../outside': 'x' })
    await expect(unpacked(file)).rejects.toThrow(/damaged/)
    expect(await unpacked(zipped({ '../1.png': footage }))).toBeNull()
  })

  it('that is cut off is refused', async () => {
    const file = zipped({ [PACKED_ENTRY]: whole(), 'footage/throw.mp4': footage })
    await expect(unpacked(file.slice(0, file.size - 30))).rejects.toThrow(/zip-damaged/)
  })

  it('that was damaged by chance is read or refused with a sentence, whatever is wrong', async () => {
    const sound = new Uint8Array(
      await zipped({
        [PACKED_ENTRY]: whole(),
        'footage/throw.mp4': footage,
        'README.txt': 'y',
      }).arrayBuffer(),
    )
    const random = randomSource(2654)
    let [read, refused] = [0, 0]
    for (let n = 0; n < (IS_SLOW ? 3000 : 60); n++) {
      const bytes = Array.from(sound)
      for (let change = 0; change < 1 + 4 * random(); change++) {
        const at = Math.floor(bytes.length * random())
        const how = random()
        if (how < 0.5) bytes[at] ^= 1 << Math.floor(8 * random())
        else if (how < 0.7) bytes.splice(at, 1 + 40 * random())
        else if (how < 0.9) bytes.splice(at, 0, ...bytes.slice(at, at + 40 * random()))
        else bytes.fill(255, at, at + 4)
      }
      try {
        await unpacked(new Blob([new Uint8Array(bytes)]))
        read++
      } catch (error) {
        expect(whyNotUnpacked(error as Error)).toMatch(/^[A-Z“].*\.$/s)
        refused++
      }
    }
    expect(read).toBeGreaterThan(0)
    expect(refused).toBeGreaterThan(0)
  })

  it('that unpacks to far more than it is, is refused before it is unpacked', async () => {
    const bomb = zipped({ [PACKED_ENTRY]: whole(), 'footage/throw.mp4': new Uint8Array(50_000_000) })
    await expect(unpacked(bomb)).rejects.toThrow(/footage-unsound/)
    const words = zipped({ [PACKED_ENTRY]: ' '.repeat(65_000_000) })
    await expect(unpacked(words)).rejects.toThrow(/too-large/)
  })
})
