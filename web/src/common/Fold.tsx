import { Collapsible, Text } from '@chakra-ui/react'
import { ChevronRight } from 'lucide-react'
import type { ReactNode } from 'react'

/** Options that few people need, behind one line of text. */
export function Fold({ name, label, children }: { name: string; label: string; children: ReactNode }) {
  return (
    <Collapsible.Root lazyMount>
      <Collapsible.Trigger asChild>
        <Text
          as="button"
          data-fold={name}
          display="flex"
          alignItems="center"
          gap="1"
          fontSize="small"
          color="petrol"
          css={{ '&[data-state=open] svg': { transform: 'rotate(90deg)' } }}
        >
          <ChevronRight size={14} aria-hidden />
          {label}
        </Text>
      </Collapsible.Trigger>
      <Collapsible.Content>{children}</Collapsible.Content>
    </Collapsible.Root>
  )
}
