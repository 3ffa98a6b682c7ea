import type { ListedInvestigation } from '@apokinema/core/api'
import { useInfiniteQuery } from '@tanstack/react-query'
import { listQuery } from '../api/queries.ts'

/** Returns the list of investigations, or of deleted ones, as far as it was asked for; `all` is undefined until it is there. */
export function useInvestigations(deleted = false) {
  const pages = useInfiniteQuery(listQuery(deleted))
  const all: ListedInvestigation[] | undefined = pages.data?.pages.flatMap(
    ({ investigations }) => investigations,
  )
  return { ...pages, all }
}
