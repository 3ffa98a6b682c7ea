import { Box, Button, Flex, Text } from '@chakra-ui/react'
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useLayoutEffect,
  useMemo,
  useState,
} from 'react'

/** What a question knows of the parts that stand behind its "more". */
interface More {
  isOpen: boolean
  /** Counts a part that stands behind it; returns what takes it off the count. */
  add: () => () => void
}

const QuestionMore = createContext<More>({ isOpen: true, add: () => () => {} })

/** Returns whether a part that belongs behind the "more" of its question is hidden now. */
export function useBehindMore(isBehind: boolean): boolean {
  const { isOpen, add } = useContext(QuestionMore)
  useLayoutEffect(() => (isBehind ? add() : undefined), [isBehind, add])
  return isBehind && !isOpen
}

/** A part of a question that few people need: behind "more", unless it is in use. */
export function BehindMore({ isInUse = false, children }: { isInUse?: boolean; children: ReactNode }) {
  return useBehindMore(!isInUse) ? null : children
}

/** A question with its rows; what few people need stands behind one "more". */
export function Question({
  text,
  children,
  actions,
}: {
  text: string
  children: ReactNode
  actions?: ReactNode
}) {
  const [isOpen, setOpen] = useState(false)
  const [behind, setBehind] = useState(0)
  const add = useCallback(() => {
    setBehind((count) => count + 1)
    return () => setBehind((count) => count - 1)
  }, [])
  const more = useMemo(() => ({ isOpen, add }), [isOpen, add])
  return (
    <QuestionMore.Provider value={more}>
      <Box
        as="section"
        aria-label={text}
        paddingY="1"
        borderBottom="1px solid"
        borderColor="line"
        _last={{ lg: { borderBottom: 'none' } }}
      >
        <Flex align="center" paddingLeft="4" paddingRight="2" minHeight="7">
          <Text as="h2" fontWeight="600" flex="1">
            {text}
          </Text>
          {actions}
          {behind > 0 && (
            <Button
              size="2xs"
              variant="plain"
              color="petrol"
              fontWeight="400"
              aria-expanded={isOpen}
              aria-label={`${isOpen ? 'Less' : 'More'}: ${text}`}
              onClick={() => setOpen(!isOpen)}
            >
              {isOpen ? 'less' : 'more'}
            </Button>
          )}
        </Flex>
        {children}
      </Box>
    </QuestionMore.Provider>
  )
}
