import { infiniteQueryOptions, QueryClient, queryOptions, useMutation } from '@tanstack/react-query'
import { notify } from '../common/messages.tsx'
import { client } from './client.ts'

/** What is asked of the server, each under one key, and what is changed there. */

/** The page's knowledge of the server. What is asked without a connection fails at once: who asks knows how to go on. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: { retry: 1, staleTime: 5_000, networkMode: 'always' },
    mutations: { networkMode: 'always' },
  },
})

/** Of every list of investigations. */
const LISTS = ['investigations'] as const

/** Returns the list of investigations, or of deleted ones, page by page. */
export const listQuery = (deleted: boolean) =>
  infiniteQueryOptions({
    queryKey: [...LISTS, deleted ? 'deleted' : 'list'],
    queryFn: ({ pageParam }) => client.list(pageParam, deleted),
    initialPageParam: null as string | null,
    getNextPageParam: ({ next }) => next,
  })

/** Returns an investigation as the server has it. */
export const investigationQuery = (id: string) =>
  queryOptions({ queryKey: ['investigation', id], queryFn: () => client.open(id) })

export const samplesQuery = queryOptions({
  queryKey: ['samples'],
  queryFn: client.samples,
  staleTime: Number.POSITIVE_INFINITY,
})

/** What the server allows, and who is asking. */
export const limitsQuery = queryOptions({
  queryKey: ['limits'],
  queryFn: client.limits,
  staleTime: Number.POSITIVE_INFINITY,
})

/** Returns how the conversion of an investigation's footage stands; null where there is none. */
export const conversionQuery = (id: string) =>
  queryOptions({ queryKey: ['conversion', id], queryFn: () => client.conversion(id) })

/** Has the lists of investigations asked for anew. */
export const listsChanged = (): Promise<void> => queryClient.invalidateQueries({ queryKey: LISTS })

/** Something that is done to investigations in the list: a failure is said, and the lists are asked for anew. */
export function useListMutation<Arguments extends unknown[]>(
  act: (...given: Arguments) => Promise<unknown>,
): (...given: Arguments) => void {
  const { mutate } = useMutation({
    mutationFn: (given: Arguments) => act(...given),
    onError: (error) => notify(error.message),
    onSuccess: listsChanged,
  })
  return (...given) => mutate(given)
}

/** Something that is done to the conversion of an investigation's footage: a failure is said. */
export function useConversionMutation(id: string, act: (id: string) => Promise<unknown>): () => void {
  const { mutate } = useMutation({
    mutationFn: () => act(id),
    onError: (error) => notify(error.message),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: conversionQuery(id).queryKey }),
  })
  return () => mutate()
}

/** Asks for an investigation that is about to be opened, so that its answer is there with the workbench. */
export function prefetchInvestigation(id: string): void {
  void queryClient.prefetchQuery(investigationQuery(id))
}

/** Opens an investigation as it is now, with an answer that was asked for ahead where there is one; that is used once. */
export async function openInvestigation(id: string): ReturnType<typeof client.open> {
  const { queryKey } = investigationQuery(id)
  try {
    return await queryClient.fetchQuery({ ...investigationQuery(id), retry: false })
  } finally {
    queryClient.removeQueries({ queryKey, exact: true })
  }
}
