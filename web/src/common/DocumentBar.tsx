import { Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { Brand } from './Brand.tsx'

/** The bar at the top of an open document: the way home, and what belongs to the document. */
export function DocumentBar({ children }: { children: ReactNode }) {
  return (
    <Flex
      as="header"
      height="12"
      flex="none"
      align="center"
      gap={{ base: '1', md: '4' }}
      paddingX={{ base: '2', md: '4' }}
      bg="paper"
      borderBottom="1px solid"
      borderColor="line"
    >
      <Brand />
      <Text color="ink.muted" aria-hidden display={{ base: 'none', md: 'block' }}>
        ›
      </Text>
      {children}
    </Flex>
  )
}
