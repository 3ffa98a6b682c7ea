import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import {
  API,
  type EditAnswer,
  type EditRequest,
  type NewInvestigationRequest,
  type NewSeriesRequest,
  type OpenedInvestigation,
} from '@apokinema/core/api'
import { edit, edits, type Investigation, type Mutator } from '@apokinema/core/investigation'
import { cartSeries, measuredCart, measuredLike } from './demoSeries.ts'
import type { Truth } from './film.ts'
import { CART_ON_PLANK } from './series/cartOnPlank.ts'
import { steadyHand } from './steadyHand.ts'

/** Samples that are offered by themselves, or trials of a series. */
export type SampleFolder = 'samples' | 'series'

/** Returns the truth of a sample as it was written when the sample was rendered. */
export function readTruth(sample: string, folder: SampleFolder = 'samples'): Truth {
  const path = fileURLToPath(new URL(`../${folder}/${sample}/truth.json`, import.meta.url))
  return JSON.parse(readFileSync(path, 'utf8')) as Truth
}

/** Ids of the demo's things: fixed, so that links to them stay right. */
const demoId = (investigation: number, thing: number) =>
  `de300000-0000-4000-8000-${String(investigation * 1000 + thing).padStart(12, '0')}`

/** Number of the series of carts; its trials have those that follow. */
const CARTS = 10

/**
 * Fills a server with the demo data over its own API: an investigation that is worked through, one that is half marked, one that is still to
 * be measured, and a series of five trials.
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

  const make = async (
    number: number,
    title: string,
    mutators: Mutator[],
    sample = 'net-float',
  ): Promise<Investigation> => {
    const request: NewInvestigationRequest = { id: demoId(number, 0), title, sample }
    const opened = await send<OpenedInvestigation>(API.investigations, request)
    let document: Investigation = opened.document
    let version = opened.version
    for (const [index, mutator] of mutators.entries()) {
      const edited = edit(document, mutator)
      const body: EditRequest = { key: demoId(number, 500 + index), base: version, patch: edited.patch }
      version = (await send<EditAnswer>(API.edits(opened.id), body)).version
      document = edited.document
    }
    return document
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

  const fillSeries = async () => {
    const id = things(CARTS)
    const trials = CART_ON_PLANK.trials.map(({ sample, typed: [angle] }, i) => {
      const cart = { id: demoId(CARTS + 1 + i, 0), angle, truth: readTruth(sample.id, 'series') }
      return { ...cart, title: sample.title, sample: sample.id }
    })
    const [first, ...others] = trials
    const pattern = await make(CARTS + 1, first.title, [measuredCart(id, first.truth)], first.sample)
    for (const [i, { title, truth: ofTrial, sample }] of others.entries())
      await make(CARTS + 2 + i, title, [measuredLike(pattern, id, ofTrial, 40 + i)], sample)
    const request: NewSeriesRequest = { id: id(0), document: cartSeries(id, trials) }
    await send(API.allSeries, request)
  }

  const worked = things(1)
  const mutators = measured(worked, 1)
  const ends = inFlight(truth)
  await fillSeries()
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
