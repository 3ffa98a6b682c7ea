import { Button, Flex, Stack, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { useStore } from 'zustand'
import { notify } from '../common/messages.tsx'
import type { Session } from './session.ts'

/** Why work is not being saved, and what the person can do about it; nothing while it is. */
export function SaveNotices<D extends object>({ session }: { session: Session<D> }) {
  const save = useStore(session.store, (state) => state.save)
  const isAside = useStore(session.store, ({ aside }) => aside.length > 0)
  return (
    <>
      {save === 'conflict' && <Conflict session={session} />}
      {save === 'held' && <Held session={session} />}
      {isAside && <Aside session={session} />}
    </>
  )
}

function Bar({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Flex
      role="alert"
      data-save-notice={name}
      align="center"
      gap="3"
      paddingX="4"
      paddingY="2"
      bg="petrol.tint"
      borderBottom="1px solid"
      borderColor="line"
      flexWrap="wrap"
    >
      {children}
    </Flex>
  )
}

/** A conflict: the same value was changed in two places, and the person decides. */
function Conflict<D extends object>({ session }: { session: Session<D> }) {
  const message = useStore(session.store, (state) => state.message)
  const settle = (mine: boolean) =>
    session.resolveConflict(mine).catch((error: Error) => notify(error.message))
  return (
    <Bar name="conflict">
      <Text flex="1" minWidth="16rem">
        {message} Your changes are kept in this browser until you choose.
      </Text>
      <Button size="xs" colorPalette="brand" onClick={() => void settle(true)}>
        Keep mine
      </Button>
      <Button size="xs" variant="outline" onClick={() => void settle(false)}>
        Take the other
      </Button>
    </Bar>
  )
}

/** Something answers, but does not save. */
function Held<D extends object>({ session }: { session: Session<D> }) {
  const failure = useStore(session.store, (state) => state.failure)
  return (
    <Bar name="held">
      <Text flex="1" minWidth="16rem">
        Not saved yet. {failure} Your changes are kept in this browser, which goes on trying to save them.
      </Text>
      <Button size="xs" colorPalette="brand" onClick={() => session.retryNow()}>
        Try now
      </Button>
    </Bar>
  )
}

/** Edits that could not be saved: shown until the person retries or discards them. */
function Aside<D extends object>({ session }: { session: Session<D> }) {
  const aside = useStore(session.store, (state) => state.aside)
  return (
    <Bar name="aside">
      <Stack flex="1" minWidth="16rem" gap="1">
        <Text>
          {aside.length === 1 ? 'One change' : `${aside.length} changes`} could not be saved. All others are
          safe.
        </Text>
        <Stack as="ul" gap="1" maxHeight="7.5rem" overflow="auto" fontSize="small">
          {aside.map(({ key, label, why }) => (
            <Flex as="li" key={key} gap="3" align="center" data-aside={key}>
              <Text flex="1">
                <b>{label ? label[0].toUpperCase() + label.slice(1) : 'A change'}</b>: {why}
              </Text>
              <Button size="xs" colorPalette="brand" onClick={() => session.tryAgain(key)}>
                Try again
              </Button>
            </Flex>
          ))}
        </Stack>
      </Stack>
      <Button size="xs" variant="outline" alignSelf="flex-end" onClick={() => session.letGo()}>
        {aside.length === 1 ? 'Let it go' : 'Let them go'}
      </Button>
    </Bar>
  )
}
