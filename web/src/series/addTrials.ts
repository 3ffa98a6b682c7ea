import type { Investigation } from '@apokinema/core/investigation'
import type { Registration } from '@apokinema/core/registration'
import { newTrial, type TrialView } from '@apokinema/core/series'
import * as Comlink from 'comlink'
import { footageSource } from '../footage/footageSource.ts'
import type { RegistrationWorker } from '../footage/registration.worker.ts'
import { checkedFootage, createWithFootage, titleOf } from '../investigations/create.ts'

/** A trial that was made from a clip. */
export interface MadeTrial {
  id: string
  view: TrialView
}

/** The trial whose set-up others take over. */
export interface Pattern {
  id: string
  document: Investigation
}

/**
 * Makes an investigation of each clip, set up as the pattern: its calibration is taken along with the camera.
 *
 * @param on `made` is called for each as soon as it is there, `refused` for each that can't be used, with a message for people; the others
 *   are made all the same
 */
export async function makeTrials(
  files: readonly File[],
  pattern: Pattern,
  on: {
    made: (trial: MadeTrial) => void
    refused: (name: string, error: Error) => void
    progress: (done: number) => void
  },
): Promise<void> {
  const worker = new Worker(new URL('../footage/registration.worker.ts', import.meta.url), {
    type: 'module',
    name: 'registration',
  })
  const registration = Comlink.wrap<RegistrationWorker>(worker)
  try {
    for (const [i, file] of files.entries()) {
      on.progress(i)
      try {
        on.made(await makeTrial(file, pattern, registration))
      } catch (error) {
        on.refused(file.name, error as Error)
      }
    }
  } finally {
    registration[Comlink.releaseProxy]()
    worker.terminate()
  }
}

async function makeTrial(
  file: File,
  pattern: Pattern,
  registration: Comlink.Remote<RegistrationWorker>,
): Promise<MadeTrial> {
  const footage = await checkedFootage(file)
  const view = await registeredView(file, pattern, registration)
  const document = newTrial(pattern.document, { title: titleOf(file.name), footage, view })
  return { id: await createWithFootage(document, file), view: trialView(view, pattern.id) }
}

/** Returns how the camera moved since the pattern’s clip. Before a camera that moves there is no still background to compare. */
async function registeredView(
  file: File,
  { id, document }: Pattern,
  registration: Comlink.Remote<RegistrationWorker>,
): Promise<Registration> {
  if (!document.footage || document.camera.motion !== 'still') return { kind: 'other', trouble: 'notFound' }
  const from = await footageSource(id, document.footage.id)
  const anchors = Object.values(document.references).flatMap(({ ends }) => ends.map(({ x, y }) => ({ x, y })))
  return registration.register(from, file, document.orientation, anchors)
}

function trialView(view: Registration, of: string): TrialView {
  if (view.kind === 'other') return { kind: 'other', of, trouble: view.trouble }
  const { kind, farthest, error } = view
  return { kind, of, farthest, error }
}
