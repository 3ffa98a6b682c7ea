import type { ListedInvestigation } from '@apokinema/core/api'
import { useInfiniteQuery } from '@tanstack/react-query'
import { listQuery } from '../api/queries.ts'

/** Returns the pages of the list of investigations, or of deleted ones, loaded so far; `all` is undefined until the first is there. */
export function useInvestigations(deleted = false) {
  const pages = useInfiniteQuery(listQuery(deleted))
  const all: ListedInvestigation[] | undefined = pages.data?.pages.flatMap(
    ({ investigations }) => investigations,
  )
  return { ...pages, all }
}
