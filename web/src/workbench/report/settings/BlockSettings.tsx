import {
  type Block,
  type ById,
  contentOf,
  edits,
  inOrder,
  type Mutator,
  type Reported,
} from '@apokinema/core/investigation'
import { showBlock } from '@apokinema/words/report/showReport'
import { Box, Button, HStack, IconButton, Stack, Text } from '@chakra-ui/react'
import { ArrowDown, ArrowUp, Copy, Trash2 } from 'lucide-react'
import type { ReactNode } from 'react'
import { v4 as uuid } from 'uuid'
import { withDrawing } from '../blocks/withDrawing.ts'
import { focusBehind } from '../editor/insert.ts'
import type { Writing } from '../editor/writing.ts'
import { useLabel } from '../shownBlocks.ts'
import { useReport, useSource } from '../source.ts'
import { ChipSettings } from './ChipSettings.tsx'
import { KindSettings } from './KindSettings.tsx'

const NAMES: Record<Block['kind'], string> = {
  text: 'Text',
  equation: 'Equation',
  graph: 'Graph',
  frame: 'Picture',
  chronophotograph: 'Chronophotograph',
  image: 'Picture',
  fit: 'Fit',
  reading: 'Reading',
  comparison: 'Comparison',
  'calculation-comparison': 'Comparison',
  calculation: 'Calculation',
  table: 'Table',
  trials: 'Table',
  mean: 'Mean',
  motions: 'Motions',
  method: 'How it was measured',
  question: 'Question',
  'page-break': 'Page break',
  unknown: 'Unknown block',
}

/** What the chosen block can be set to, and what can be done with it. */
export function BlockSettings({ id, writing }: { id: string; writing: Writing }) {
  const kind = useReport(({ blocks }) => blocks[id]?.kind)
  const label = useLabel(id)
  if (!kind) return null
  return (
    <Box padding="4" borderBottom="1px solid" borderColor="line" data-settings={kind}>
      <Text as="h2" fontWeight="600">
        {label ?? NAMES[kind]}
      </Text>
      <Stack gap="3" marginTop="2">
        <ChipSettings writing={writing} />
        <KindSettings id={id} done={() => focusBehind(writing, id)} />
        <Pinning id={id} kind={kind} writing={writing} />
        <BlockActions id={id} writing={writing} />
      </Stack>
    </Box>
  )
}

/** Kinds of blocks that follow nothing. */
const NEVER_PINNED: readonly Block['kind'][] = ['page-break', 'image', 'unknown', 'equation', 'question']

/** Pins a block as it is now, or lets it follow its sources again. */
function Pinning({ id, kind, writing }: { id: string; kind: Block['kind']; writing: Writing }) {
  const source = useSource()
  const { session } = source
  const pinned = useReport(({ blocks }) => blocks[id]?.pin ?? null)
  if (NEVER_PINNED.includes(kind)) return null
  if (pinned)
    return (
      <Box fontSize="small">
        <Text color="ink.muted">Pinned on {pinned.at.slice(0, 10)}: it stays as it was.</Text>
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
    const shown = showBlock(source.subject(), id)
    if (!shown) return
    const fixed = await withDrawing(source, shown)
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
  const { session } = useSource()
  const isFirst = useReport(({ blocks }) => inOrder(blocks)[0]?.[0] === id)
  const isLast = useReport(({ blocks }) => inOrder(blocks).at(-1)?.[0] === id)
  const action = (
    name: string,
    icon: ReactNode,
    label: string,
    mutator: (blocks: ById<Block>) => Mutator<Reported>,
    disabled = false,
  ) => (
    <IconButton
      size="xs"
      variant="outline"
      aria-label={name}
      disabled={disabled}
      onClick={() => {
        writing.commit()
        session.edit(label, mutator(session.document.report.blocks))
      }}
    >
      {icon}
    </IconButton>
  )
  /** Moves it behind the block at a distance. */
  const behind = (by: number) => (blocks: ById<Block>) => {
    const ids = inOrder(blocks).map(([key]) => key)
    return edits.moveBlock(id, ids[ids.indexOf(id) + by] ?? null)
  }
  const copy = (blocks: ById<Block>) => edits.addBlocks([[uuid(), contentOf(blocks[id])]], id)
  return (
    <HStack gap="1">
      {action('Move up', <ArrowUp size={14} />, 'move a block', behind(-2), isFirst)}
      {action('Move down', <ArrowDown size={14} />, 'move a block', behind(1), isLast)}
      {action('Duplicate', <Copy size={14} />, 'duplicate a block', copy)}
      {action('Delete this block', <Trash2 size={14} />, 'delete a block', () => edits.removeBlocks([id]))}
    </HStack>
  )
}
