import { Box, Button, Center, Heading, Spinner, Stack, Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import { isRouteErrorResponse, Link, Outlet, useNavigation, useRouteError } from 'react-router'

/** Shown while something is loading. */
export function Loading({ text }: { text: string }) {
  return (
    <Center height="100%" gap="3" color="ink.muted" role="status">
      <Spinner size="sm" color="petrol" />
      <Text>{text}</Text>
    </Center>
  )
}

/** Delay in milliseconds before a message says that the next page is loading; most load sooner. */
const LONG = 300

/** The current page, with a message over it if the next one takes long to load. */
export function CurrentPage() {
  const isLeaving = useNavigation().state === 'loading'
  const [isLong, setLong] = useState(false)
  useEffect(() => {
    if (!isLeaving) return
    const timer = setTimeout(() => setLong(true), LONG)
    return () => {
      clearTimeout(timer)
      setLong(false)
    }
  }, [isLeaving])
  return (
    <>
      <Outlet />
      {isLong && (
        <Box
          position="fixed"
          bottom="6"
          left="50%"
          transform="translateX(-50%)"
          paddingX="4"
          paddingY="2"
          bg="panel"
          border="1px solid"
          borderColor="line"
          borderRadius="8px"
        >
          <Loading text="Opening …" />
        </Box>
      )}
    </>
  )
}

/** An error page with a way on. */
export function ProblemPage({
  title,
  text,
  again,
  againLabel = 'Try again',
}: {
  title: string
  text: string
  again?: () => void
  againLabel?: string
}) {
  return (
    <Center height="100%" padding="6">
      <Stack maxWidth="30rem" gap="4" role="alert">
        <Heading size="lg">{title}</Heading>
        <Text color="ink.muted">{text}</Text>
        <Stack direction="row" wrap="wrap">
          {again && (
            <Button colorPalette="brand" onClick={again}>
              {againLabel}
            </Button>
          )}
          <Button asChild variant="outline">
            <Link to="/">To the investigations</Link>
          </Button>
        </Stack>
      </Stack>
    </Center>
  )
}

/** Page for unknown addresses and for errors of the application. */
export function Broken() {
  const error = useRouteError()
  if (!error || (isRouteErrorResponse(error) && error.status === 404))
    return (
      <ProblemPage title="There is no such page" text="The address may be mistyped, or the page has moved." />
    )
  return (
    <ProblemPage
      title="Something broke on this page"
      text="Your work is saved up to the last change. Reload the page; if this comes again, go back to the list."
      again={() => window.location.reload()}
    />
  )
}
