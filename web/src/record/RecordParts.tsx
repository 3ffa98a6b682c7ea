import { fixed, withUnit } from '@apokinema/core/units'
import { Box, Field, Flex, HStack, NativeSelect, Stack, Text } from '@chakra-ui/react'
import { Circle } from 'lucide-react'
import { useEffect, useState } from 'react'
import type { Checks } from './useChecks.ts'

/** A recording ends by itself after this time in seconds: long enough for any throw, short enough to be handled. */
const LONGEST = 120

/** A labelled select. */
export function Select(props: {
  label: string
  value: string
  choices: { value: string; name: string }[]
  disabled?: boolean
  onChange: (value: string) => void
}) {
  return (
    <Field.Root gap="1">
      <Field.Label fontSize="small" color="ink.muted" fontWeight="400">
        {props.label}
      </Field.Label>
      <NativeSelect.Root size="sm" disabled={props.disabled}>
        <NativeSelect.Field value={props.value} onChange={(event) => props.onChange(event.target.value)}>
          {props.choices.map(({ value, name }) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Field.Root>
  )
}

/** The settings that the camera really uses, which may be less than requested. */
export function Given({ track }: { track: MediaStreamTrack }) {
  const { width, height, frameRate } = track.getSettings()
  if (!width || !height) return null
  return (
    <Text fontSize="small" color="ink.muted" fontFamily="mono">
      gives {width} × {height}
      {frameRate ? `, ${fixed(frameRate, 0)} /s` : ''}
    </Text>
  )
}

/** A level line and thirds, to hold the camera straight and keep the motion inside. */
export function Guides() {
  return (
    <svg
      width="100%"
      height="100%"
      style={{ position: 'absolute', inset: 0, pointerEvents: 'none' }}
      aria-hidden="true"
    >
      {[33.33, 66.67].map((share) => (
        <g key={share} stroke="rgba(255,255,255,0.35)" strokeWidth="1">
          <line x1={`${share}%`} x2={`${share}%`} y1="0" y2="100%" />
          <line y1={`${share}%`} y2={`${share}%`} x1="0" x2="100%" />
        </g>
      ))}
      <line x1="0" x2="100%" y1="50%" y2="50%" stroke="rgba(16,24,26,0.8)" strokeWidth="4" />
      <line x1="0" x2="100%" y1="50%" y2="50%" stroke="#9FE3DC" strokeWidth="1.6" />
    </svg>
  )
}

/** The remaining seconds of the countdown, large enough to be read from a distance. */
export function Countdown({ left }: { left: number }) {
  return (
    <Flex position="absolute" inset="0" align="center" justify="center" pointerEvents="none">
      <Text
        role="status"
        fontFamily="mono"
        fontSize="120px"
        fontWeight="600"
        color="white"
        textShadow="0 2px 16px rgba(0,0,0,0.7)"
      >
        {left}
      </Text>
    </Flex>
  )
}

/** The recorded time; ends a recording that was forgotten. */
export function Clock({ since, stop }: { since: number; stop: () => void }) {
  const [seconds, setSeconds] = useState(0)
  useEffect(() => {
    const timer = setInterval(() => {
      const passed = (performance.now() - since) / 1000
      setSeconds(passed)
      if (passed > LONGEST) stop()
    }, 100)
    return () => clearInterval(timer)
  }, [since, stop])
  return (
    <HStack
      position="absolute"
      top="4"
      left="4"
      bg="rgba(24,29,31,0.88)"
      color="white"
      borderRadius="8px"
      paddingX="3"
      paddingY="1"
    >
      <Circle size={12} fill="#E0533D" color="#E0533D" aria-hidden />
      <Text fontFamily="mono" role="timer">
        {withUnit(fixed(seconds, 1), 's')}
      </Text>
    </HStack>
  )
}

/** Light, sharpness and steadiness of the live picture. */
export function ShownChecks({ checks }: { checks: Checks }) {
  const rows: [string, boolean | null, string, string][] = [
    ['Light', checks.light === 'good', 'enough', checks.light === 'dark' ? 'too dark' : 'too bright'],
    ['Sharpness', checks.sharp, 'sharp', 'blurred: focus, or clean the lens'],
    ['Steadiness', checks.steady, 'steady', 'moving: lean the camera on something'],
  ]
  return (
    <Stack gap="1" fontSize="small" data-checks>
      {rows.map(([name, good, yes, no]) => (
        <HStack key={name} gap="2">
          <Box
            width="9px"
            height="9px"
            borderRadius="full"
            flex="none"
            bg={good === null ? 'line' : good ? 'good' : 'saffron.text'}
          />
          <Text>
            {name}: <b>{good === null ? 'can’t be told' : good ? yes : no}</b>
          </Text>
        </HStack>
      ))}
    </Stack>
  )
}
