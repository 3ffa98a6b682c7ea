import { API } from '@apokinema/core/api'
import { waitingFiles } from '../document/localStore.ts'

/** Returns the file of footage that still waits for its upload in this browser, or else its address. */
export async function footageSource(investigation: string, footage: string): Promise<Blob | string> {
  const local = await waitingFiles.get(investigation)
  return local?.id === footage ? local.file : API.footage(investigation, footage)
}
