import { framesInUse } from '@apokinema/core/investigation'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/system.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'

/** One line above the stage that says what a click will do; only while it does something. */
export function Band() {
  const mode = useWorkbench((state) => state.mode)
  const frame = useWorkbench((state) => state.frame)
  const investigation = useInvestigation()
  const { bodies, span } = investigation
  if (mode.kind === 'select') return null

  const body = mode.kind === 'mark' ? bodies[mode.body] : null
  const frames = framesInUse(investigation).list
  const place = frames.indexOf(frame) + 1
  const says = {
    mark: () => (
      <>
        Marking <b>{body?.name}</b>: click its centre.{' '}
        {span.every === 1 ? 'The film goes on by itself.' : `The film goes on by ${span.every} frames.`}
      </>
    ),
    reference: () =>
      mode.kind === 'reference' && mode.first
        ? 'Now the other end.'
        : 'Drag from one end of something whose length you know to the other, or click both ends.',
    origin: () => 'Click where you want zero to be.',
    'axis-line': () =>
      mode.kind === 'axis-line' && mode.first
        ? 'Now another point of the same line.'
        : 'Draw a line along the ramp or the ground: x will run along it.',
    edge: () =>
      mode.kind === 'edge' && mode.first
        ? 'Now the other end of the edge.'
        : 'Draw along an edge that is upright in reality and moves fast sideways.',
  }[mode.kind]()
  return (
    <Flex
      position="absolute"
      insetX="0"
      top="0"
      minHeight="9"
      align="center"
      gap="3"
      paddingX="4"
      paddingY="1"
      bg="rgba(24,29,31,0.88)"
      color="white"
      role="status"
      data-band
      onPointerDown={(event) => event.stopPropagation()}
    >
      {body && (
        <Box width="11px" height="11px" borderRadius="full" flex="none" bg={BODY_PAINT[body.colour].mark} />
      )}
      <Text flex="1">{says}</Text>
      {body && place > 0 && (
        <Text fontFamily="mono" fontSize="13px" color="#F0C063" whiteSpace="nowrap">
          {place} of {frames.length}
        </Text>
      )}
      <Text
        fontSize="13px"
        color="whiteAlpha.800"
        display={{ base: 'none', xl: 'block' }}
        whiteSpace="nowrap"
      >
        {body ? 'Backspace takes the last one back · ' : ''}Arrows and Enter work, too
      </Text>
      <Button
        size="2xs"
        variant="outline"
        color="white"
        borderColor="whiteAlpha.500"
        _hover={{ bg: 'whiteAlpha.200' }}
        onClick={() => workbench.leave()}
      >
        Done · Esc
      </Button>
    </Flex>
  )
}
