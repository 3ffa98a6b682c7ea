import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import {
  API,
  type EditAnswer,
  type EditRequest,
  type NewInvestigationRequest,
  type OpenedInvestigation,
} from '@apokinema/core/api'
import { edit, edits, type Investigation, type Mutator } from '@apokinema/core/investigation'
import type { Truth } from './film.ts'
import { steadyHand } from './steadyHand.ts'

/**
 * Returns the truth of a sample as it was written when the sample was rendered.
 *
 * @param folder samples that are offered by themselves, or trials of a series
 */
export function readTruth(sample: string, folder: 'samples' | 'series' = 'samples'): Truth {
  const path = fileURLToPath(new URL(`../${folder}/${sample}/truth.json`, import.meta.url))
  return JSON.parse(readFileSync(path, 'utf8')) as Truth
}

/** Ids of the demo's things: fixed, so that links to them stay right. */
const demoId = (investigation: number, thing: number) =>
  `de300000-0000-4000-8000-${String(investigation * 1000 + thing).padStart(12, '0')}`

/**
 * Fills a server with the demo investigations over its own API: one that is worked through, one that is
 * half marked, one that is still to be measured.
 *
 * @param origin address of the server, such as http://127.0.0.1:5170
 */
export async function fill(origin: string): Promise<void> {
  const send = async <T>(path: string, body: unknown): Promise<T> => {
    const answer = await fetch(origin + path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: origin },
      body: JSON.stringify(body),
    })
    if (!answer.ok) throw new Error(`The demo data were refused (${answer.status}): ${await answer.text()}`)
    return (await answer.json()) as T
  }

  const make = async (number: number, title: string, mutators: Mutator[]) => {
    const request: NewInvestigationRequest = { id: demoId(number, 0), title, sample: 'net-float' }
    const opened = await send<OpenedInvestigation>(API.investigations, request)
    let document: Investigation = opened.document
    let version = opened.version
    for (const [index, mutator] of mutators.entries()) {
      const edited = edit(document, mutator)
      const body: EditRequest = { key: demoId(number, 500 + index), base: version, patch: edited.patch }
      version = (await send<EditAnswer>(API.edits(opened.id), body)).version
      document = edited.document
    }
  }

  const truth = readTruth('net-float')
  const hand = steadyHand(7)
  const things = (n: number) => (thing: number) => demoId(n, thing)

  /** Returns the work of measuring, as far as a share of the marks. */
  const measured = (id: (thing: number) => string, share: number): Mutator[] => {
    const [first, last] = inFlight(truth)
    const chosen = truth.bodies[0].frames.filter(
      ({ frame }) => frame >= first && frame <= last && (frame - first) % 2 === 0,
    )
    const [low, high] = truth.reference.ends
    return [
      edits.setSpan({ first, last, every: 2 }),
      edits.addReference(id(1), [
        { ...hand(low), frame: first },
        { ...hand(high), frame: first },
      ]),
      edits.changeReference(id(1), {
        name: truth.reference.name,
        length: truth.reference.length,
        lengthError: 0.002,
      }),
      edits.setAxes({ origin: { x: truth.origin.x, y: 640, frame: first }, tilt: 0 }),
      edits.addBody(id(2), { position: id(3), velocity: id(4) }, 'Net float'),
      ...chosen
        .slice(0, Math.round(chosen.length * share))
        .map(({ frame, x, y }) => edits.setMark(id(2), frame, hand({ x, y }))),
    ]
  }

  const worked = things(1)
  const mutators = measured(worked, 1)
  const ends = inFlight(truth)
  await make(3, 'Net float, third throw', [])
  await make(2, 'Net float, second throw', measured(things(2), 0.6))
  await make(1, 'Net float, first throw', [
    ...mutators,
    edits.addStretch(worked(5), worked(3), ...ends),
    edits.addFit(worked(6), worked(5), 'uniform-acceleration'),
    edits.changeFit(worked(6), {
      expected: { reading: '', against: { kind: 'value', value: -9.81, error: 0, label: 'g' } },
    }),
    edits.addStretch(worked(7), worked(4), ...ends),
    edits.addFit(worked(8), worked(7), 'uniform-acceleration'),
  ])
}

/** First and last frame of the clean flight, an even number of frames apart: clear of the hand and of the basket. */
function inFlight(truth: Truth): [number, number] {
  const frames = truth.bodies[0].frames.filter(({ phase }) => phase === 'flying').map(({ frame }) => frame)
  const [first, last] = [frames[1], frames[frames.length - 2]]
  return [first, last - ((last - first) % 2)]
}
