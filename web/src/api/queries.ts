import {
  type FetchQueryOptions,
  infiniteQueryOptions,
  QueryClient,
  queryOptions,
  useMutation,
} from '@tanstack/react-query'
import { notify } from '../common/messages.tsx'
import { client } from './client.ts'

/** Queries and mutations of the server, each query under one key. */

/** The query client. A request without a connection fails at once: callers handle that themselves. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: { retry: 1, staleTime: 5_000, networkMode: 'always' },
    mutations: { networkMode: 'always' },
  },
})

/** Key of every list of investigations and series. */
const LISTS = ['investigations'] as const

/** Returns the list of investigations, or of deleted ones, page by page. */
export const listQuery = (deleted: boolean) =>
  infiniteQueryOptions({
    queryKey: [...LISTS, deleted ? 'deleted' : 'list'],
    queryFn: ({ pageParam }) => client.list(pageParam, deleted),
    initialPageParam: null as string | null,
    getNextPageParam: ({ next }) => next,
  })

/** Returns the list of series, or of deleted ones. */
export const seriesListQuery = (deleted: boolean) =>
  queryOptions({
    queryKey: [...LISTS, deleted ? 'deleted series' : 'series'],
    queryFn: () => client.allSeries(deleted),
  })

/** Returns the series that an investigation is a trial of; null if there is none. */
export const seriesOfQuery = (id: string) =>
  queryOptions({ queryKey: [...LISTS, 'series of', id], queryFn: () => client.seriesOf(id) })

/** Returns an investigation as the server has it. */
export const investigationQuery = (id: string) =>
  queryOptions({ queryKey: ['investigation', id], queryFn: () => client.open(id) })

export const samplesQuery = queryOptions({
  queryKey: ['samples'],
  queryFn: client.samples,
  staleTime: Number.POSITIVE_INFINITY,
})

/** Query of the reports that are kept for other investigations. */
export const templatesQuery = queryOptions({ queryKey: ['templates'], queryFn: client.templates })

/** Query of the server's limits and of the current person. */
export const limitsQuery = queryOptions({
  queryKey: ['limits'],
  queryFn: client.limits,
  staleTime: Number.POSITIVE_INFINITY,
})

/** Returns the query of the conversion of an investigation's footage; its value is null if there is none. */
export const conversionQuery = (id: string) =>
  queryOptions({ queryKey: ['conversion', id], queryFn: () => client.conversion(id) })

/** Invalidates the lists of investigations. */
export const listsChanged = (): Promise<void> => queryClient.invalidateQueries({ queryKey: LISTS })

/** A mutation that shows a message if it fails, and does what follows it otherwise. */
function useToldMutation<Arguments extends unknown[]>(
  act: (...given: Arguments) => Promise<unknown>,
  done: () => Promise<void>,
): (...given: Arguments) => void {
  const { mutate } = useMutation({
    mutationFn: (given: Arguments) => act(...given),
    onError: (error) => notify(error.message),
    onSuccess: done,
  })
  return (...given) => mutate(given)
}

/** A mutation of investigations in the list: shows a message if it fails, and invalidates the lists. */
export const useListMutation = <Arguments extends unknown[]>(
  act: (...given: Arguments) => Promise<unknown>,
) => useToldMutation(act, listsChanged)

/** A mutation of the templates of reports: shows a message if it fails, and invalidates their list. */
export const useTemplateMutation = <Arguments extends unknown[]>(
  act: (...given: Arguments) => Promise<unknown>,
  done: () => void = () => {},
) =>
  useToldMutation(act, () => {
    done()
    return queryClient.invalidateQueries({ queryKey: templatesQuery.queryKey })
  })

/** A mutation of the conversion of an investigation's footage: shows a message if it fails. */
export const useConversionMutation = (id: string, act: (id: string) => Promise<unknown>): (() => void) =>
  useToldMutation(
    () => act(id),
    () => queryClient.invalidateQueries({ queryKey: conversionQuery(id).queryKey }),
  )

/** Prefetches an investigation that is about to be opened. */
export function prefetchInvestigation(id: string): void {
  void queryClient.prefetchQuery({ ...investigationQuery(id), retry: false })
}

/** Opens an investigation. A prefetched answer is used once. */
export const openInvestigation = (id: string) => usedOnce(investigationQuery(id))

/** Who asks for a series when it is opened: the session that edits it, and what loads its trials. */
const ASKERS = ['session', 'trials'] as const

/** Returns a series as the server has it, for one of those who ask for it. */
const seriesQuery = (id: string, asker: (typeof ASKERS)[number]) =>
  queryOptions({ queryKey: ['series', id, asker], queryFn: () => client.openSeries(id) })

/** Prefetches a series that is about to be opened, by one request for all who will ask. */
export function prefetchSeries(id: string): void {
  const answer = client.openSeries(id)
  for (const asker of ASKERS)
    void queryClient.prefetchQuery({ ...seriesQuery(id, asker), queryFn: () => answer, retry: false })
}

/** Opens a series. A prefetched answer is used once by each who asks. */
export const openSeries = (id: string, asker: (typeof ASKERS)[number]) => usedOnce(seriesQuery(id, asker))

/** Forgets what was prefetched of a document that was not opened at once: it may be old by now. */
export function forgetPrefetched(id: string): void {
  queryClient.removeQueries({ queryKey: investigationQuery(id).queryKey })
  queryClient.removeQueries({ queryKey: ['series', id] })
}

/** Returns what a query has prefetched, or fetches it, and forgets it: later it may be old. */
async function usedOnce<T, K extends readonly unknown[]>(
  query: FetchQueryOptions<T, Error, T, K> & { queryKey: K },
): Promise<T> {
  try {
    return await queryClient.fetchQuery({ ...query, retry: false })
  } finally {
    queryClient.removeQueries({ queryKey: query.queryKey, exact: true })
  }
}
