import { HStack, Text } from '@chakra-ui/react'
import { Link } from 'react-router'
import { COLOUR } from '../theme/palettes.ts'

/** Mark and name; leads home. */
export function Brand() {
  return (
    <HStack asChild gap="3">
      <Link to="/" aria-label="Apokinema, to the investigations">
        <svg width="22" height="18" viewBox="0 0 22 18" aria-hidden="true">
          <path
            d="M2 16C5 1 17 1 20 16"
            fill="none"
            stroke={COLOUR.petrol}
            strokeWidth="2.4"
            strokeLinecap="round"
          />
          <circle cx="11" cy="4.8" r="3" fill={COLOUR.saffron} stroke={COLOUR.ink} strokeWidth="1" />
        </svg>
        <Text fontWeight="600" display={{ base: 'none', sm: 'block' }}>
          Apokinema
        </Text>
      </Link>
    </HStack>
  )
}
