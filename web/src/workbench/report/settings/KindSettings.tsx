import { type Block, type BlockContent, edits } from '@apokinema/core/investigation'
import { Box, Button, Text } from '@chakra-ui/react'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { TickBox } from '../../../common/TickBox.tsx'
import { useFollowed, useReport, useSource } from '../source.ts'
import {
  CountField,
  FigureTexts,
  FrameField,
  GraphRanges,
  LongText,
  ShapeField,
  WidthField,
} from './blockFields.tsx'
import { EquationField } from './EquationField.tsx'

type Change<K extends BlockContent['kind']> = (
  change: Partial<Omit<Extract<BlockContent, { kind: K }>, 'kind'>>,
) => void

/**
 * What a block of its kind can be set to.
 *
 * @param done called when an equation is written
 */
export function KindSettings({ id, done }: { id: string; done: () => void }) {
  const { session } = useSource()
  const block = useReport(({ blocks }) => blocks[id])
  const changer =
    <K extends BlockContent['kind']>(kind: K): Change<K> =>
    (change) =>
      session.edit('change a block of the report', edits.changeBlock(id, kind, change))
  switch (block?.kind) {
    case 'graph': {
      const change = changer('graph')
      return (
        <>
          <WidthField width={block.width} set={(width) => change({ width })} />
          <ShapeField ratio={block.ratio} set={(ratio) => change({ ratio })} />
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
          <GraphRanges block={block} change={change} />
          <FigureTexts id={id} block={block} change={change} />
        </>
      )
    }
    case 'frame': {
      const change = changer('frame')
      return (
        <>
          <WidthField width={block.width} set={(width) => change({ width })} />
          <FrameField frame={block.frame} set={(frame) => change({ frame })} />
          <FigureTexts id={id} block={block} change={change} />
        </>
      )
    }
    case 'image':
      return (
        <>
          <WidthField width={block.width} set={(width) => changer('image')({ width })} />
          <FigureTexts id={id} block={block} change={changer('image')} />
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
          <TickBox on={block.residuals} set={(residuals) => change({ residuals })}>
            residuals
          </TickBox>
        </>
      )
    }
    case 'reading':
      return <BudgetTick on={block.budget} set={(budget) => changer('reading')({ budget })} />
    case 'calculation':
      return <BudgetTick on={block.budget} set={(budget) => changer('calculation')({ budget })} />
    case 'mean':
      return <BudgetTick on={block.budget} set={(budget) => changer('mean')({ budget })} />
    case 'trials':
      return <TrialsSettings block={block} change={changer('trials')} />
    case 'motions': {
      const change = changer('motions')
      return (
        <>
          <WidthField width={block.width} set={(width) => change({ width })} />
          {block.form === 'graph' && <ShapeField ratio={block.ratio} set={(ratio) => change({ ratio })} />}
          <FigureTexts id={id} block={block} change={change} />
        </>
      )
    }
    case 'table':
      return <TableSettings block={block} change={changer('table')} />
    case 'equation':
      return <EquationField tex={block.tex} set={(tex) => changer('equation')({ tex })} done={done} />
    case 'method':
      return <MethodSettings block={block} change={changer('method')} />
    default:
      return null
  }
}

function BudgetTick({ on, set }: { on: boolean; set: (on: boolean) => void }) {
  return (
    <TickBox on={on} set={set}>
      where its error comes from
    </TickBox>
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

/** Which columns of the table of trials are shown, and how. */
function TrialsSettings({
  block,
  change,
}: {
  block: Extract<Block, { kind: 'trials' }>
  change: Change<'trials'>
}) {
  // The same list as long as nothing changes: what is measured says so.
  useFollowed((source) => source.measured())
  const { columns, hasMeans } = useSource().trials()
  const shown = block.columns ?? columns.map(([id]) => id)
  const show = (id: string, on: boolean) => {
    const wanted = columns.map(([one]) => one).filter((one) => (one === id ? on : shown.includes(one)))
    change({ columns: wanted.length === columns.length ? null : wanted })
  }
  return (
    <>
      {columns.map(([id, name]) => (
        <TickBox key={id} on={shown.includes(id)} set={(on) => show(id, on)}>
          {name}
        </TickBox>
      ))}
      <TickBox on={block.errors} set={(errors) => change({ errors })}>
        with standard errors
      </TickBox>
      {hasMeans && (
        <TickBox on={block.statistics} set={(statistics) => change({ statistics })}>
          means below
        </TickBox>
      )}
      <LongText
        label="Caption"
        value={block.caption ?? ''}
        isOwn={block.caption !== null}
        set={(caption) => change({ caption })}
      />
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
  const facts = useFollowed((source) => source.subject().method())
  return (
    <>
      <LongText
        label="Text"
        value={block.text ?? facts}
        isOwn={block.text !== null}
        set={(text) => change({ text, facts })}
      />
      {block.text !== null && block.facts !== facts && (
        <Box fontSize="small">
          <Text color="alarm">The facts are now: {facts}</Text>
          <Button size="2xs" variant="outline" marginTop="1" onClick={() => change({ facts })}>
            My text is still right
          </Button>
        </Box>
      )}
    </>
  )
}
