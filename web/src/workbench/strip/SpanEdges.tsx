import type { Span } from '@apokinema/core/time'
import { Box } from '@chakra-ui/react'
import { RULER_HEIGHT } from './Ruler.tsx'

/** What lies outside the span, dimmed. */
export function OutsideSpan({ span, xOf }: { span: Span; xOf(frame: number): number }) {
  return (
    <>
      <Veil left="0" width={`${Math.max(0, xOf(span.first))}px`} />
      <Veil left={`${xOf(span.last)}px`} right="0" />
    </>
  )
}

function Veil(sides: { left: string; right?: string; width?: string }) {
  return (
    <Box position="absolute" top={`${RULER_HEIGHT}px`} bottom="0" bg="veil" pointerEvents="none" {...sides} />
  )
}

/** The lines at both ends of the span. */
export function SpanLines({ span, xOf }: { span: Span; xOf(frame: number): number }) {
  return (['first', 'last'] as const).map((end) => (
    <Box
      key={end}
      position="absolute"
      left={`${xOf(span[end]) - 1}px`}
      width="2px"
      top={`${RULER_HEIGHT}px`}
      bottom="0"
      bg="petrol"
      pointerEvents="none"
    />
  ))
}
