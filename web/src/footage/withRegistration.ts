import * as Comlink from 'comlink'
import type { RegistrationWorker } from './registration.worker.ts'

/** Runs a task with a worker that compares clips, which lives as long as the task. */
export async function withRegistration<T>(
  task: (registration: Comlink.Remote<RegistrationWorker>) => Promise<T>,
): Promise<T> {
  const worker = new Worker(new URL('./registration.worker.ts', import.meta.url), {
    type: 'module',
    name: 'registration',
  })
  const registration = Comlink.wrap<RegistrationWorker>(worker)
  try {
    return await task(registration)
  } finally {
    registration[Comlink.releaseProxy]()
    worker.terminate()
  }
}
