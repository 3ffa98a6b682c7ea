import { Button, HStack } from '@chakra-ui/react'
import { Link } from 'react-router'

/** The tabs of the views of an open document. */
export function ViewTabs({
  views,
  current,
}: {
  /** Addresses with their names. */
  views: readonly (readonly [address: string, name: string])[]
  /** Address of the view that is shown. */
  current: string
}) {
  return (
    <HStack
      as="nav"
      gap="0"
      border="1px solid"
      borderColor="line"
      borderRadius="8px"
      overflow="hidden"
      bg="panel"
      flex="none"
    >
      {views.map(([address, name]) => (
        <Button
          key={address}
          asChild
          size="sm"
          paddingX={{ base: '1.5', md: '3.5' }}
          fontSize={{ base: 'tiny', md: 'text' }}
          borderRadius="0"
          variant={address === current ? 'solid' : 'ghost'}
          colorPalette={address === current ? 'brand' : 'gray'}
          color={address === current ? 'white' : 'ink.muted'}
        >
          <Link to={address} aria-current={address === current ? 'page' : undefined}>
            {name}
          </Link>
        </Button>
      ))}
    </HStack>
  )
}
