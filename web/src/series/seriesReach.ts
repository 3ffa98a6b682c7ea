import { readSeries } from '@apokinema/core/series'
import { client } from '../api/client.ts'
import { openSeries } from '../api/queries.ts'
import { seriesBrowserStore } from '../document/localStore.ts'

/** What a session of a series reaches. */
export const seriesReach = {
  client: { open: (id: string) => openSeries(id, 'session'), edit: client.editSeries },
  localStore: seriesBrowserStore,
  read: readSeries,
  wait: (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms)),
}
