import type { ListedInvestigation } from '@apokinema/core/api'
import { useInfiniteQuery } from '@tanstack/react-query'
import { client } from '../api/client.ts'

/** The list of investigations, or of deleted ones, as far as it was asked for; `all` is undefined until it is there. */
export function useInvestigations(deleted = false) {
  const pages = useInfiniteQuery({
    queryKey: deleted ? ['investigations', 'deleted'] : ['investigations', 'list'],
    queryFn: ({ pageParam }) => client.list(pageParam, deleted),
    initialPageParam: null as string | null,
    getNextPageParam: ({ next }) => next,
  })
  const all: ListedInvestigation[] | undefined = pages.data?.pages.flatMap(
    ({ investigations }) => investigations,
  )
  return { ...pages, all }
}
