import {
  type Block,
  type BlockContent,
  edits,
  FIGURE_WIDTHS,
  type ValueFormat,
  type ValuePart,
} from '@apokinema/core/investigation'
import { methodText } from '@apokinema/words/report/methodText'
import { showBlock } from '@apokinema/words/report/showReport'
import { Box, Button, HStack, IconButton, Stack, Text, Textarea } from '@chakra-ui/react'
import { NodeSelection } from '@tiptap/pm/state'
import { useEditorState } from '@tiptap/react'
import { ArrowDown, ArrowUp, Copy, Trash2 } from 'lucide-react'
import { v4 as uuid } from 'uuid'
import { Select } from '../../common/Select.tsx'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { TickBox } from '../../common/TickBox.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { EquationField } from './EquationField.tsx'
import type { Writing } from './editor/writing.ts'
import { useShown } from './shownBlocks.ts'

const NAMES: Record<Block['kind'], string> = {
  text: 'Text',
  equation: 'Equation',
  graph: 'Graph',
  frame: 'Picture',
  chronophotograph: 'Chronophotograph',
  fit: 'Fit',
  reading: 'Reading',
  comparison: 'Comparison',
  calculation: 'Calculation',
  table: 'Table',
  method: 'How it was measured',
  question: 'Question',
  'page-break': 'Page break',
  unknown: 'Unknown block',
}

/** What the chosen block can be set to, and what can be done with it. */
export function BlockSettings({ id, writing }: { id: string; writing: Writing }) {
  const block = useInvestigation((now) => now.report.blocks[id])
  const shown = useShown(id)?.shown
  if (!block) return null
  const label = shown && 'label' in shown ? shown.label : NAMES[block.kind]
  return (
    <Box padding="4" borderBottom="1px solid" borderColor="line" data-settings={block.kind}>
      <Text as="h2" fontWeight="600">
        {label}
      </Text>
      <Stack gap="3" marginTop="2">
        <ChipSettings writing={writing} />
        <KindSettings id={id} block={block} />
        <Pinning id={id} block={block} writing={writing} />
        <BlockActions id={id} writing={writing} />
      </Stack>
    </Box>
  )
}

type Change<K extends BlockContent['kind']> = (
  change: Partial<Omit<Extract<BlockContent, { kind: K }>, 'kind'>>,
) => void

function KindSettings({ id, block }: { id: string; block: Block }) {
  const session = useSession()
  const changer =
    <K extends BlockContent['kind']>(kind: K): Change<K> =>
    (change) =>
      session.edit('change a block of the report', edits.changeBlock(id, kind, change))
  switch (block.kind) {
    case 'graph': {
      const change = changer('graph')
      return (
        <>
          <WidthField width={block.width} set={(width) => change({ width })} />
          <TextField
            label="Title"
            value={block.title ?? ''}
            placeholder="none"
            fontFamily="body"
            maxLength={200}
            onCommit={(title) => {
              change({ title: title || null })
              return null
            }}
          />
          <TickBox on={block.fits} set={(fits) => change({ fits })}>
            with its fits
          </TickBox>
          <TickBox on={block.errorBars ?? false} set={(errorBars) => change({ errorBars })}>
            error bars
          </TickBox>
          <FigureTexts id={id} block={block} change={change} />
        </>
      )
    }
    case 'frame':
      return (
        <>
          <WidthField width={block.width} set={(width) => changer('frame')({ width })} />
          <FigureTexts id={id} block={block} change={changer('frame')} />
        </>
      )
    case 'chronophotograph': {
      const change = changer('chronophotograph')
      return (
        <>
          <WidthField width={block.width} set={(width) => change({ width })} />
          <CountField label="Every n-th mark" value={block.every} set={(every) => change({ every })} />
          <TickBox on={block.grid} set={(grid) => change({ grid })}>
            grid
          </TickBox>
          <FigureTexts id={id} block={block} change={change} />
        </>
      )
    }
    case 'fit': {
      const change = changer('fit')
      return (
        <>
          <TickBox on={block.parameters} set={(parameters) => change({ parameters })}>
            parameters
          </TickBox>
          <TickBox on={block.closeness} set={(closeness) => change({ closeness })}>
            RMSE and R²
          </TickBox>
        </>
      )
    }
    case 'reading':
      return (
        <TickBox on={block.budget} set={(budget) => changer('reading')({ budget })}>
          where its error comes from
        </TickBox>
      )
    case 'calculation':
      return (
        <TickBox on={block.budget} set={(budget) => changer('calculation')({ budget })}>
          where its error comes from
        </TickBox>
      )
    case 'table':
      return <TableSettings block={block} change={changer('table')} />
    case 'equation':
      return <EquationField tex={block.tex} set={(tex) => changer('equation')({ tex })} />
    case 'method':
      return <MethodSettings block={block} change={changer('method')} />
    default:
      return null
  }
}

function WidthField({ width, set }: { width: number; set: (width: number) => void }) {
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

function CountField({ label, value, set }: { label: string; value: number; set: (value: number) => void }) {
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

/** Caption and alternative text: written from the data until somebody writes others. */
function FigureTexts({
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
        label="Text for screen readers"
        value={shown.alternative}
        isOwn={block.alternative !== null}
        set={(alternative) => change({ alternative })}
      />
    </>
  )
}

function LongText({
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

function TableSettings({
  block,
  change,
}: {
  block: Extract<Block, { kind: 'table' }>
  change: Change<'table'>
}) {
  return (
    <>
      <TextField
        label="Columns, such as x, vy, Ek"
        value={block.columns.join(', ')}
        onCommit={(text) => {
          const columns = text.split(/[\s,;]+/).filter((column) => column !== '')
          if (columns.length === 0) return 'At least one column.'
          change({ columns })
          return null
        }}
      />
      <TextField
        label="Evenly spaced rows"
        value={block.rows === null ? '' : String(block.rows)}
        placeholder="a row per mark"
        inputMode="numeric"
        onCommit={(text) => {
          const rows = text === '' ? null : parseNumber(text)
          if (text !== '' && (rows === null || rows < 2 || rows > 2000 || !Number.isInteger(rows)))
            return 'From 2 to 2000.'
          change({ rows })
          return null
        }}
      />
      <TickBox on={block.rounded} set={(rounded) => change({ rounded })}>
        rounded to the errors
      </TickBox>
      <TickBox on={block.errors} set={(errors) => change({ errors })}>
        with standard errors
      </TickBox>
    </>
  )
}

function MethodSettings({
  block,
  change,
}: {
  block: Extract<Block, { kind: 'method' }>
  change: Change<'method'>
}) {
  const facts = useInvestigation(methodText)
  return (
    <>
      <LongText
        label="Text"
        value={block.text ?? facts}
        isOwn={block.text !== null}
        set={(text) => change({ text, facts })}
      />
      {block.text !== null && block.facts !== facts && (
        <Box fontSize="13px">
          <Text color="alarm">The facts are now: {facts}</Text>
          <Button size="2xs" variant="outline" marginTop="1" onClick={() => change({ facts })}>
            My text is still right
          </Button>
        </Box>
      )}
    </>
  )
}

/** Settings of the live value or the equation that is selected in the text. */
function ChipSettings({ writing }: { writing: Writing }) {
  const { editor } = writing
  const chip = useEditorState({
    editor,
    selector: ({ editor: now }) => {
      if (!now) return null
      const { selection } = now.state
      if (!(selection instanceof NodeSelection) || selection.$from.depth === 0) return null
      return { name: selection.node.type.name, attrs: selection.node.attrs, at: selection.from }
    },
  })
  if (!editor || !chip) return null
  const set = (attrs: object) =>
    editor
      .chain()
      .command(({ tr }) => {
        tr.setNodeMarkup(chip.at, null, { ...chip.attrs, ...attrs }).setSelection(
          NodeSelection.create(tr.doc, chip.at),
        )
        return true
      })
      .run()
  if (chip.name === 'inlineEquation')
    return <EquationField tex={chip.attrs.tex as string} set={(tex) => set({ tex })} />
  if (chip.name !== 'value') return null
  const format = chip.attrs.format as ValueFormat
  const change = (part: Partial<ValueFormat>) => set({ format: { ...format, ...part } })
  return (
    <Stack gap="2" data-value-settings>
      <Select
        label="Show"
        value={format.part}
        options={[
          ['measurement', 'value ± error'],
          ['value', 'value'],
          ['error', 'error'],
          ['percent-error', 'error in percent'],
          ['unit', 'unit'],
        ]}
        choose={(part) => change({ part: part as ValuePart })}
      />
      <Select
        label="Significant digits"
        value={String(format.digits ?? '')}
        options={[
          ['', 'as the error says'],
          ...[1, 2, 3, 4, 5, 6].map((digits) => [String(digits), `${digits} digits`] as const),
        ]}
        choose={(digits) => change({ digits: digits === '' ? null : Number(digits) })}
      />
      <TickBox on={format.withUnit} set={(withUnit) => change({ withUnit })}>
        with its unit
      </TickBox>
    </Stack>
  )
}

/** Pins a block as it is now, or lets it follow its sources again. */
function Pinning({ id, block, writing }: { id: string; block: Block; writing: Writing }) {
  const session = useSession()
  if (
    block.kind === 'page-break' ||
    block.kind === 'unknown' ||
    block.kind === 'equation' ||
    block.kind === 'question'
  )
    return null
  if (block.pin)
    return (
      <Box fontSize="13px">
        <Text color="ink.muted">Pinned on {block.pin.at.slice(0, 10)}: it stays as it was.</Text>
        <Button
          size="2xs"
          variant="outline"
          marginTop="1"
          onClick={() => session.edit('unpin a block', edits.pinBlock(id, null))}
        >
          Let it follow again
        </Button>
      </Box>
    )
  const pin = async () => {
    writing.commit()
    const shown = showBlock(session.document, id)
    if (!shown) return
    const { withDrawing } = await import('./blocks/withDrawing.ts')
    const fixed = await withDrawing(session.document, shown)
    const at = new Date().toISOString()
    session.edit('pin a block', edits.pinBlock(id, { at, shown: JSON.stringify(fixed) }))
  }
  return (
    <Button size="xs" variant="outline" alignSelf="flex-start" onClick={() => void pin()}>
      Pin as it is now
    </Button>
  )
}

function BlockActions({ id, writing }: { id: string; writing: Writing }) {
  const session = useSession()
  const order = useInvestigation(({ report }) => report.blocks)
  const ids = Object.entries(order)
    .sort(([, a], [, b]) => a.order - b.order)
    .map(([key]) => key)
  const at = ids.indexOf(id)
  const { pin, order: place, ...content } = order[id]
  const act = (label: string, recipe: Parameters<typeof session.edit>[1]) => {
    writing.commit()
    session.edit(label, recipe)
  }
  return (
    <HStack gap="1">
      <IconButton
        size="xs"
        variant="outline"
        aria-label="Move up"
        disabled={at <= 0}
        onClick={() => act('move a block', edits.moveBlock(id, ids[at - 2] ?? null))}
      >
        <ArrowUp size={14} />
      </IconButton>
      <IconButton
        size="xs"
        variant="outline"
        aria-label="Move down"
        disabled={at === ids.length - 1}
        onClick={() => act('move a block', edits.moveBlock(id, ids[at + 1]))}
      >
        <ArrowDown size={14} />
      </IconButton>
      <IconButton
        size="xs"
        variant="outline"
        aria-label="Duplicate"
        onClick={() => act('duplicate a block', edits.addBlocks([[uuid(), content as BlockContent]], id))}
      >
        <Copy size={14} />
      </IconButton>
      <IconButton
        size="xs"
        variant="outline"
        aria-label="Delete this block"
        onClick={() => act('delete a block', edits.removeBlocks([id]))}
      >
        <Trash2 size={14} />
      </IconButton>
    </HStack>
  )
}
