import { Box, Collapsible, Flex, Text } from '@chakra-ui/react'
import { Check, CircleDashed, Dot, TriangleAlert } from 'lucide-react'
import { createContext, memo, type ReactNode, useContext, useEffect, useRef, useState } from 'react'
import { useLocation } from 'react-router'
import { useBehindMore } from './Question.tsx'

interface SetUpRowProps {
  /** done: set; note: set, with something to look at; open: still missing; plain: nothing has to be set. */
  state: 'done' | 'note' | 'open' | 'plain'
  label: string
  value: string
  children?: ReactNode
  defaultOpen?: boolean
  /** Whether few people need it and nothing asks for it: it then stands behind "more", unless it is open. */
  isBehindMore?: boolean
  /** Name by which an address refers to it: it is then opened and scrolled into view. */
  place?: SetUpPlace
}

/** Rows that other parts of the page link to. */
type SetUpPlace = 'scale' | 'capture-rate' | 'axes' | 'read-out'

const SIGNS = {
  done: { icon: Check, colour: 'good', says: 'done' },
  note: { icon: TriangleAlert, colour: 'saffron.text', says: 'look here' },
  open: { icon: CircleDashed, colour: 'ink.muted', says: 'still open' },
  plain: { icon: Dot, colour: 'ink.muted', says: 'as it is' },
}

/** The content of the row, rendered only while it is open. */
const Inside = createContext<ReactNode>(null)
const Opened = () => useContext(Inside)

/** A row under a question: its state, label and value; its content opens below. */
export function SetUpRow({ children, ...row }: SetUpRowProps) {
  return (
    <Inside.Provider value={children}>
      <Row {...row} opens={Boolean(children)} />
    </Inside.Provider>
  )
}

/** Renders only when its line changes: there are many rows, and marks change with every click. */
const Row = memo(function Row({
  state,
  label,
  value,
  opens,
  defaultOpen = false,
  isBehindMore = false,
  place,
}: Omit<SetUpRowProps, 'children'> & { opens: boolean }) {
  const { hash } = useLocation()
  const isSought = place !== undefined && hash === `#${place}`
  const row = useRef<HTMLDivElement>(null)
  const [isOpen, setOpen] = useState(defaultOpen || isSought)
  useEffect(() => {
    if (!isSought) return
    setOpen(true)
    row.current?.scrollIntoView({ block: 'center' })
  }, [isSought])
  // What was open until it was answered closes with the answer.
  const [wasAsked, setAsked] = useState(defaultOpen)
  if (wasAsked !== defaultOpen) {
    setAsked(defaultOpen)
    setOpen(defaultOpen)
  }
  const isHidden = useBehindMore(isBehindMore && !isOpen && !isSought)
  if (isHidden) return null
  const { icon: Sign, colour, says } = SIGNS[state]
  return (
    <Collapsible.Root open={isOpen} onOpenChange={({ open }) => setOpen(open)} lazyMount>
      <Collapsible.Trigger asChild disabled={!opens}>
        <Flex
          ref={row}
          as="button"
          width="100%"
          align="center"
          gap="2"
          paddingX="4"
          paddingY="1"
          textAlign="left"
          _hover={{ bg: 'petrol.tint' }}
          cursor="pointer"
        >
          <Box color={colour} flex="none">
            <Sign size={15} strokeWidth={2.4} aria-label={says} />
          </Box>
          <Text truncate flex="1 1 auto" minWidth="3.5rem" title={label}>
            {label}
          </Text>
          <Text
            fontFamily="mono"
            fontSize="small"
            color="ink.muted"
            truncate
            flex="none"
            maxWidth="62%"
            title={value}
          >
            {value}
          </Text>
        </Flex>
      </Collapsible.Trigger>
      {opens && (
        <Collapsible.Content>
          <Box paddingX="4" paddingTop="1" paddingBottom="3" paddingLeft="10">
            <Opened />
          </Box>
        </Collapsible.Content>
      )}
    </Collapsible.Root>
  )
})
