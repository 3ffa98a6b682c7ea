import { edits } from '@apokinema/core/investigation'
import { Box } from '@chakra-ui/react'
import type { KeyboardEvent, PointerEvent } from 'react'
import { useSession } from '../../document/SessionContext.tsx'
import { workbench } from '../workbenchStore.ts'
import { FILM_HEIGHT } from './Film.tsx'
import { RULER_HEIGHT } from './Ruler.tsx'

/**
 * The handle at an end of the span, beside the film: dragged, or moved by the arrow keys.
 *
 * @param at frame at which the span ends
 * @param x of that frame on the strip, in pixels
 * @param last of the clip's frames
 */
export function SpanEnd({
  end,
  at,
  x,
  last,
  frameUnder,
}: {
  end: 'first' | 'last'
  at: number
  x: number
  last: number
  frameUnder(event: PointerEvent): number
}) {
  const session = useSession()
  const isFirst = end === 'first'
  const label = isFirst ? 'First frame of the span' : 'Last frame of the span'
  const onDrag = (event: PointerEvent<HTMLDivElement>) => {
    event.stopPropagation()
    const isDragged = event.currentTarget.hasPointerCapture(event.pointerId)
    if (event.type === 'pointerdown') event.currentTarget.setPointerCapture(event.pointerId)
    else if (event.type === 'pointermove' && isDragged) {
      const frame = frameUnder(event)
      session.preview(edits.setSpan({ [end]: frame }))
      workbench.goTo(frame)
    } else if (event.type === 'pointerup' && isDragged && session.store.getState().preview)
      session.edit('change the span', edits.setSpan({ [end]: frameUnder(event) }))
  }
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
    if (!by) return
    event.preventDefault()
    event.stopPropagation()
    session.edit('change the span', edits.setSpan({ [end]: at + by * (event.shiftKey ? 10 : 1) }))
    workbench.goTo(session.document.span[end])
  }
  return (
    <Box
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={last}
      aria-valuenow={at}
      aria-valuetext={`frame ${at}`}
      title={`${label}: drag, or arrow keys`}
      data-span-end={end}
      position="absolute"
      top={`${RULER_HEIGHT - 3}px`}
      left={`${x - (isFirst ? 13 : 1)}px`}
      width="14px"
      height={`${FILM_HEIGHT + 6}px`}
      cursor="ew-resize"
      touchAction="none"
      onPointerDown={onDrag}
      onPointerMove={onDrag}
      onPointerUp={onDrag}
      onKeyDown={onKeyDown}
    >
      <Box
        position="absolute"
        insetY="0"
        left={isFirst ? undefined : '0'}
        right={isFirst ? '0' : undefined}
        width="9px"
        bg="petrol"
        borderRadius={isFirst ? '3px 0 0 3px' : '0 3px 3px 0'}
      />
    </Box>
  )
}
