import { type BlockContent, FIGURE_WIDTHS } from '@apokinema/core/investigation'
import { Box, Button, HStack, Textarea } from '@chakra-ui/react'
import { LimitField } from '../../../common/LimitField.tsx'
import { Select } from '../../../common/Select.tsx'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useShown } from '../shownBlocks.ts'
import { type ReportAxis, useFollowed } from '../source.ts'

/** Width of a figure. */
export function WidthField({ width, set }: { width: number; set: (width: number) => void }) {
  const options = [
    ['1', 'full width'],
    ['0.75', 'three quarters wide'],
    ['0.5', 'half as wide'],
    [String(FIGURE_WIDTHS.least), 'a quarter as wide'],
  ] as const
  return (
    <Select label="Width" value={String(width)} options={options} choose={(chosen) => set(Number(chosen))} />
  )
}

/** Height of a graph over its width. */
export function ShapeField({ ratio, set }: { ratio: number; set: (ratio: number) => void }) {
  const options = [
    ['0.35', 'low'],
    ['0.55', 'usual height'],
    ['0.75', 'tall'],
    ['1', 'square'],
  ] as const
  return (
    <Select label="Height" value={String(ratio)} options={options} choose={(chosen) => set(Number(chosen))} />
  )
}

type GraphBlock = Extract<BlockContent, { kind: 'graph' }>

/** What is seen along the axes of a graph, in the units of its axes. */
export function GraphRanges({
  block,
  change,
}: {
  block: GraphBlock
  change: (ranges: Partial<Pick<GraphBlock, 'rangeX' | 'rangeY'>>) => void
}) {
  const axes = useFollowed((source) => JSON.stringify(source.axes(block.graph)))
  return (JSON.parse(axes) as ReportAxis[]).map(({ symbol, unit, perKept }, i) => {
    const key = i === 0 ? 'rangeX' : 'rangeY'
    const range = block[key]
    const limit = (end: 'from' | 'to') => (
      <LimitField
        label={`${symbol}${unit && ` in ${unit}`} ${end}`}
        value={range[end] === null ? null : range[end] * perKept}
        set={(value) => {
          const changed = { ...range, [end]: value === null ? null : value / perKept }
          if (changed.from !== null && changed.to !== null && changed.from >= changed.to)
            return 'It begins before it ends.'
          change({ [key]: changed })
          return null
        }}
      />
    )
    return (
      <HStack key={key} gap="2" align="flex-start">
        {limit('from')}
        {limit('to')}
      </HStack>
    )
  })
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
  const last = useFollowed((source) => source.lastFrame())
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
      <HStack
        justify="space-between"
        flexWrap="wrap"
        columnGap="2"
        rowGap="0"
        whiteSpace="nowrap"
        fontSize="small"
        color="ink.muted"
      >
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
