import { Flex, type FlexProps } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** The dark line above the stage; a press on it does not reach the picture. */
export function BandFrame({ children, ...rest }: { children: ReactNode } & FlexProps) {
  return (
    <Flex
      position="absolute"
      insetX="0"
      top="0"
      minHeight="9"
      align="center"
      flexWrap={{ base: 'wrap', md: 'nowrap' }}
      columnGap="3"
      rowGap="1"
      paddingX="4"
      paddingY="1"
      bg="rgba(24,29,31,0.88)"
      color="white"
      {...rest}
      onPointerDown={(event) => event.stopPropagation()}
    >
      {children}
    </Flex>
  )
}
