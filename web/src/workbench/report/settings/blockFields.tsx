import { FIGURE_WIDTHS } from '@apokinema/core/investigation'
import { frameCount } from '@apokinema/core/time'
import { Box, Button, HStack, Textarea } from '@chakra-ui/react'
import { Select } from '../../../common/Select.tsx'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation } from '../../../document/SessionContext.tsx'
import { useShown } from '../shownBlocks.ts'

/** Width of a figure. */
export function WidthField({ width, set }: { width: number; set: (width: number) => void }) {
  const options = [
    ['1', 'full'],
    ['0.75', 'three quarters'],
    ['0.5', 'half'],
    [String(FIGURE_WIDTHS.least), 'a quarter'],
  ] as const
  return (
    <Select label="Width" value={String(width)} options={options} choose={(chosen) => set(Number(chosen))} />
  )
}

/** A whole number from 1 on. */
export function CountField({
  label,
  value,
  set,
}: {
  label: string
  value: number
  set: (value: number) => void
}) {
  return (
    <TextField
      label={label}
      value={String(value)}
      inputMode="numeric"
      onCommit={(text) => {
        const count = parseNumber(text)
        if (count === null || count < 1 || !Number.isInteger(count)) return 'From 1 on.'
        set(count)
        return null
      }}
    />
  )
}

/** Number of a frame of the footage. */
export function FrameField({ frame, set }: { frame: number; set: (frame: number) => void }) {
  const last = useInvestigation(({ footage }) => (footage ? frameCount(footage.ticks) : 1) - 1)
  return (
    <TextField
      label="Frame"
      value={String(frame)}
      inputMode="numeric"
      onCommit={(text) => {
        const number = parseNumber(text)
        if (number === null || number < 0 || number > last || !Number.isInteger(number))
          return `From 0 to ${last}.`
        set(number)
        return null
      }}
    />
  )
}

/** Caption and alternative text: written from the data until somebody writes others. */
export function FigureTexts({
  id,
  block,
  change,
}: {
  id: string
  block: { caption: string | null; alternative: string | null }
  change: (texts: { caption?: string | null; alternative?: string | null }) => void
}) {
  const shown = useShown(id)?.shown
  if (shown?.kind !== 'figure') return null
  return (
    <>
      <LongText
        label="Caption"
        value={shown.caption}
        isOwn={block.caption !== null}
        set={(caption) => change({ caption })}
      />
      <LongText
        label="For screen readers"
        value={shown.alternative}
        isOwn={block.alternative !== null}
        set={(alternative) => change({ alternative })}
      />
    </>
  )
}

/** A text of several lines, committed when it is left. */
export function LongText({
  label,
  value,
  isOwn,
  set,
}: {
  label: string
  value: string
  /** Whether somebody has written it; otherwise it is written from the data. */
  isOwn: boolean
  set: (text: string | null) => void
}) {
  return (
    <Box>
      <HStack justify="space-between" fontSize="13px" color="ink.muted">
        <label htmlFor={`long-${label}`}>{label}</label>
        {isOwn ? (
          <Button size="2xs" variant="plain" color="petrol" onClick={() => set(null)}>
            From the data again
          </Button>
        ) : (
          <span>from the data</span>
        )}
      </HStack>
      <Textarea
        key={value}
        id={`long-${label}`}
        size="xs"
        autoresize
        defaultValue={value}
        maxLength={2000}
        onKeyDown={(event) => event.stopPropagation()}
        onBlur={({ target }) => {
          if (target.value !== value) set(target.value.trim() || null)
        }}
      />
    </Box>
  )
}
