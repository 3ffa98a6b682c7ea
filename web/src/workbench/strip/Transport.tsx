import { edits } from '@apokinema/core/investigation'
import type { InvestigationClock } from '@apokinema/core/scene'
import { frameAt, nearestFrame, type Span } from '@apokinema/core/time'
import { Box, Button, Flex, HStack, IconButton, NativeSelect, Text } from '@chakra-ui/react'
import { ChevronLeft, ChevronRight, Pause, Play, SkipBack, SkipForward } from 'lucide-react'
import { memo, useDeferredValue, useEffect, useState } from 'react'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { goBy } from '../actions.ts'
import { useClock } from '../ClipContext.tsx'
import { useWorkbench, workbench } from '../workbenchStore.ts'

const SPEEDS: [number, string][] = [
  [0.125, '⅛'],
  [0.25, '¼'],
  [0.5, '½'],
  [1, '1'],
  [2, '2'],
]

/** Plays the span in a loop, in real time. */
function usePlaying(span: Span, clock: InvestigationClock): void {
  const playing = useWorkbench((state) => state.playing)
  const speed = useWorkbench((state) => state.speed)
  useEffect(() => {
    if (!playing) return
    const { seconds, rate } = clock
    const from = seconds[span.first]
    const length = seconds[span.last] - from + (rate > 0 ? 1 / rate : 1)
    const began = seconds[Math.min(span.last, Math.max(span.first, useWorkbench.getState().frame))] - from
    const start = performance.now()
    let request = 0
    const step = (now: number) => {
      const time = (began + ((now - start) / 1000) * speed) % length
      workbench.showWhilePlaying(Math.min(span.last, frameAt(seconds, from + time)))
      request = requestAnimationFrame(step)
    }
    request = requestAnimationFrame(step)
    return () => cancelAnimationFrame(request)
  }, [playing, speed, clock, span])
}

/** Buttons to move through the film, the step, the speed, and the frame number. */
export function Transport() {
  const span = useInvestigation((now) => now.span)
  const clock = useClock()
  return clock && <Controls span={span} clock={clock} />
}

const Controls = memo(function Controls({ span, clock }: { span: Span; clock: InvestigationClock }) {
  usePlaying(span, clock)
  const session = useSession()
  const playing = useWorkbench((state) => state.playing)
  const speed = useWorkbench((state) => state.speed)
  const last = clock.seconds.length - 1
  const button = (label: string, icon: React.ReactNode, onClick: () => void) => (
    <IconButton size="xs" variant="ghost" aria-label={label} title={label} onClick={onClick}>
      {icon}
    </IconButton>
  )
  return (
    <Flex
      height="10"
      align="center"
      gap={{ base: '2', md: '4' }}
      paddingX={{ base: '1', md: '3' }}
      borderBottom="1px solid"
      borderColor="line"
      overflow="hidden"
    >
      <HStack gap="0">
        {button('First frame of the span (Home)', <SkipBack size={16} />, () => workbench.goTo(span.first))}
        {button('A step back (<)', <ChevronLeft size={18} />, () => goBy(session, -1, true))}
        <Button
          size="xs"
          variant="outline"
          bg="panel"
          marginX="1"
          aria-label={playing ? 'Pause (Space)' : 'Play (Space)'}
          onClick={() => workbench.play(!playing)}
        >
          {playing ? <Pause size={15} /> : <Play size={15} />}
        </Button>
        {button('A step on (>)', <ChevronRight size={18} />, () => goBy(session, 1, true))}
        {button('Last frame of the span (End)', <SkipForward size={16} />, () => workbench.goTo(span.last))}
      </HStack>
      <HStack gap="2" fontSize="small" color="ink.muted" display={{ base: 'none', md: 'flex' }}>
        <Text>Step</Text>
        <Box width="3.4rem">
          <TextField
            label="Frames a step"
            hideLabel
            value={String(span.every)}
            inputMode="numeric"
            onCommit={(text) => {
              const value = parseNumber(text)
              if (value === null || !Number.isInteger(value) || value < 1 || value > last)
                return 'Whole, from 1.'
              session.edit('change the step', edits.setSpan({ every: value }))
              return null
            }}
          />
        </Box>
        <Text>Speed</Text>
        <NativeSelect.Root size="xs" width="3.8rem">
          <NativeSelect.Field
            aria-label="Playback speed"
            value={speed}
            onChange={(event) => workbench.setSpeed(Number(event.target.value))}
          >
            {SPEEDS.map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </HStack>
      <Box flex="1" />
      <HStack gap="2" fontSize="small" color="ink.muted" whiteSpace="nowrap">
        <Text>Frame</Text>
        <FrameField clock={clock} />
        <Text display={{ base: 'none', md: 'block' }} data-span={`${span.first} – ${span.last} of ${last}`}>
          span {span.first} – {span.last} of 0 – {last}
        </Text>
      </HStack>
    </Flex>
  )
})

/** Field for the current frame; a time with its unit leads to the nearest frame. */
function FrameField({ clock }: { clock: InvestigationClock }) {
  // Deferred: the picture has priority.
  const frame = useDeferredValue(useWorkbench((state) => state.frame))
  return <FrameNumber frame={frame} clock={clock} />
}

const FrameNumber = memo(function FrameNumber({
  frame,
  clock,
}: {
  frame: number
  clock: InvestigationClock
}) {
  const last = clock.seconds.length - 1
  // A delayed number must not replace what is being typed.
  const [held, hold] = useState<number | null>(null)
  return (
    <Box width="4rem" onFocus={() => hold(frame)} onBlur={() => hold(null)}>
      <TextField
        label="Current frame"
        hideLabel
        lagging
        value={String(held ?? frame)}
        inputMode="numeric"
        onCommit={(text) => {
          const time = /^(.+?)\s*s$/i.exec(text)
          if (time) {
            const seconds = parseNumber(time[1])
            if (seconds === null) return 'A time such as 0.35 s.'
            workbench.goTo(nearestFrame(clock.seconds, seconds + clock.zero))
            return null
          }
          const value = parseNumber(text)
          if (value === null || !Number.isInteger(value) || value < 0 || value > last)
            return `0 to ${last}, or a time such as 0.35 s`
          workbench.goTo(value)
          return null
        }}
      />
    </Box>
  )
})
