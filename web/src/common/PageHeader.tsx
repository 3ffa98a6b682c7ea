import { Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { DisplayMenu } from '../theme/DisplayMenu.tsx'
import { Brand } from './Brand.tsx'

/** The bar at the top of every page except the workbench: the way home, the page's title, and links beside it. */
export function PageHeader({ title, children }: { title?: string; children?: ReactNode }) {
  return (
    <Flex
      as="header"
      height="12"
      flex="none"
      align="center"
      gap="3"
      paddingX="6"
      borderBottom="1px solid"
      borderColor="line"
    >
      <Brand />
      {title && (
        <>
          <Text color="ink.muted" aria-hidden>
            ›
          </Text>
          <Text fontWeight="600">{title}</Text>
        </>
      )}
      <Flex flex="1" />
      <DisplayMenu />
      {children}
    </Flex>
  )
}
