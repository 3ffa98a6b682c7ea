/** A person. Until there are accounts there is one, built in. */
export interface Person {
  id: string
  name: string
}

export const LOCAL_PERSON: Person = { id: '00000000-0000-4000-8000-00000000a000', name: 'local person' }

export type Action = 'see' | 'change' | 'delete'

/** Returns who may do what: an investigation belongs to its owner. */
export function may(person: Person, _action: Action, thing: { owner_id: string }): boolean {
  return thing.owner_id === person.id
}
