import { edit, edits, type Investigation, newInvestigation } from '@apokinema/core/investigation'
import type { Registration } from '@apokinema/core/registration'
import { isSetUp, type Measuring, newTrial, setUpLike, type TrialView } from '@apokinema/core/series'
import type * as Comlink from 'comlink'
import { v4 as uuid } from 'uuid'
import { client } from '../api/client.ts'
import { footageSource } from '../footage/footageSource.ts'
import type { RegistrationWorker } from '../footage/registration.worker.ts'
import { withRegistration } from '../footage/withRegistration.ts'
import { checkedFootage, createWithFootage, titleOf } from '../investigations/create.ts'

/** How a trial stands once it was set up, or added without a set-up. */
export interface AddedTrial {
  id: string
  /** Null: it is not set up. */
  view: TrialView | null
  /** Trials with a calibration are measured by themselves; the others wait for theirs. */
  measuring: Measuring | null
}

/** The trial whose set-up others take over. */
export interface Pattern {
  id: string
  document: Investigation
}

/** What is called as trials are added or set up. */
interface Listener {
  done: (trial: AddedTrial) => void
  /** A trial that could not be used, with a message for people; the others are done all the same. */
  refused: (name: string, error: Error) => void
  progress: (done: number) => void
}

/**
 * Makes an investigation of each clip, set up as the pattern: its calibration is taken along with the camera.
 *
 * @param pattern null, or one that is not set up itself: the clips are kept as they are
 */
export async function makeTrials(
  files: readonly File[],
  pattern: Pattern | null,
  on: Listener,
): Promise<void> {
  await oneByOne(
    files,
    (file) => file.name,
    on,
    (file, registration) =>
      makeTrial(file, pattern && isSetUp(pattern.document) ? pattern : null, registration),
  )
}

/** Sets up trials that are there already as the pattern. Those in which something was set up in the meantime are left as they are. */
export async function setUpTrials(
  trials: readonly { id: string; title: string }[],
  pattern: Pattern,
  on: Listener,
): Promise<void> {
  await oneByOne(
    trials,
    ({ title }) => title,
    on,
    ({ id }, registration) => setUpTrial(id, pattern, registration),
  )
}

async function oneByOne<T>(
  things: readonly T[],
  nameOf: (thing: T) => string,
  on: Listener,
  act: (thing: T, registration: Comlink.Remote<RegistrationWorker>) => Promise<AddedTrial>,
): Promise<void> {
  await withRegistration(async (registration) => {
    for (const [i, thing] of things.entries()) {
      on.progress(i)
      try {
        on.done(await act(thing, registration))
      } catch (error) {
        on.refused(nameOf(thing), error as Error)
      }
    }
  })
}

async function makeTrial(
  file: File,
  pattern: Pattern | null,
  registration: Comlink.Remote<RegistrationWorker>,
): Promise<AddedTrial> {
  const footage = await checkedFootage(file)
  const title = titleOf(file.name)
  if (!pattern) {
    const { document } = edit(newInvestigation(title), edits.setFootage(footage))
    return { id: await createWithFootage(document, file), view: null, measuring: null }
  }
  const view = await registeredView(file, pattern, registration)
  const document = newTrial(pattern.document, { title, footage, view })
  return addedTrial(await createWithFootage(document, file), view, pattern)
}

async function setUpTrial(
  id: string,
  pattern: Pattern,
  registration: Comlink.Remote<RegistrationWorker>,
): Promise<AddedTrial> {
  const { document, version } = await client.open(id)
  if (!document.footage) throw new Error('It has no footage yet.')
  if (isSetUp(document)) return { id, view: null, measuring: null }
  const view = await registeredView(await footageSource(id, document.footage.id), pattern, registration)
  const { patch } = edit(document, setUpLike(pattern.document, view))
  await client.edit(id, { key: uuid(), base: version, patch })
  return addedTrial(id, view, pattern)
}

/** Returns how the camera moved since the pattern’s clip. Before a camera that moves there is no still background to compare. */
async function registeredView(
  clip: Blob | string,
  { id, document }: Pattern,
  registration: Comlink.Remote<RegistrationWorker>,
): Promise<Registration> {
  if (!document.footage || document.camera.motion !== 'still') return { kind: 'other', trouble: 'notFound' }
  const from = await footageSource(id, document.footage.id)
  const ends = Object.values(document.references).flatMap((reference) => reference.ends)
  const anchors = [...ends, ...(document.plane?.corners ?? [])].map(({ x, y }) => ({ x, y }))
  return registration.register(from, clip, document.orientation, anchors)
}

function addedTrial(id: string, view: Registration, { id: of }: Pattern): AddedTrial {
  if (view.kind === 'other')
    return { id, view: { kind: 'other', of, trouble: view.trouble }, measuring: null }
  const { kind, farthest, error } = view
  return { id, view: { kind, of, farthest, error }, measuring: { kind: 'waiting' } }
}
