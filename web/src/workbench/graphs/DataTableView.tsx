import type { DataColumn, DataTable } from '@apokinema/core/motion'
import { fixed, measurement, rounded } from '@apokinema/core/units'
import { columnText } from '@apokinema/words/columns'
import { Box, Flex } from '@chakra-ui/react'
import { useVirtualizer, type Virtualizer } from '@tanstack/react-virtual'
import { TriangleAlert } from 'lucide-react'
import { type MouseEvent, useEffect, useRef, useState } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { SymbolText } from '../SymbolText.tsx'
import { useTable } from '../tableStore.ts'
import { useTrackDiagnosis } from '../trackDiagnosis.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'
import { MarkCorrection } from './MarkCorrection.tsx'

const ROW = 26
const WIDE = { frame: 92, time: 84, column: 108 }
/** Columns in which a mark can be corrected. */
const CORRECTED = ['x', 'y', 'picture-x', 'picture-y']

/** The rows of the data table, virtualised. */
export function DataTableView({ table, body }: { table: DataTable; body: string }) {
  const { bodies } = useInvestigation()
  const frame = useWorkbench((state) => state.frame)
  const rows = useTable((state) => state.rows)
  const { outliers } = useTrackDiagnosis(body)
  const suspicious = new Set(outliers.map((stray) => stray.frame))
  const scroller = useRef<HTMLDivElement>(null)
  const [editing, setEditing] = useState<{ row: number; column: number } | null>(null)
  const { columns, frames, isInterpolated } = table
  const virtual = useVirtualizer({
    count: frames.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
  })
  const current = isInterpolated ? -1 : frames.indexOf(frame)
  useScrolledTo(virtual, current)
  const whose = columns.map(({ body: id }) => id).filter((id, i, all) => all.indexOf(id) === i)
  const width = WIDE.frame + WIDE.time + columns.length * WIDE.column
  const choose = (event: MouseEvent, row: number) => {
    const at = frames[row]
    const known = useTable.getState().rows
    if (event.shiftKey && known) {
      useTable.setState({ rows: { from: Math.min(known.from, at), to: Math.max(known.to, at) } })
      return
    }
    useTable.setState({ rows: { from: at, to: at } })
    workbench.goTo(at)
    const marked = whose.find((id) => bodies[id]?.marks[at])
    if (marked) workbench.select({ kind: 'mark', body: bodies[body].marks[at] ? body : marked, frame: at })
  }
  const isIn = (row: number) =>
    !isInterpolated && rows !== null && frames[row] >= rows.from && frames[row] <= rows.to
  return (
    <Box
      ref={scroller}
      height="240px"
      overflow="auto"
      bg="panel"
      borderBottom="1px solid"
      borderColor="line"
      fontSize="small"
      role="table"
      aria-label="Data table"
      aria-rowcount={frames.length}
      tabIndex={0}
    >
      <Box
        width={`${width}px`}
        position="sticky"
        top="0"
        zIndex="1"
        bg="panel"
        borderBottom="1px solid"
        borderColor="line"
        role="rowgroup"
      >
        <HeadRows columns={columns} whose={whose} />
      </Box>
      <Box position="relative" minWidth={`${width}px`} height={`${virtual.getTotalSize()}px`} role="rowgroup">
        {virtual.getVirtualItems().map(({ index: row, start }) => (
          <Row
            key={row}
            table={table}
            row={row}
            top={start}
            isCurrent={row === current}
            isChosen={isIn(row)}
            isSuspicious={!isInterpolated && suspicious.has(frames[row])}
            editing={editing?.row === row ? editing.column : null}
            edit={(column) => setEditing(column === null ? null : { row, column })}
            choose={(event) => choose(event, row)}
          />
        ))}
      </Box>
    </Box>
  )
}

/** Scrolls a row into view whenever it becomes the current one, wherever that was chosen; −1 for none. */
function useScrolledTo(virtual: Virtualizer<HTMLDivElement, Element>, current: number): void {
  // biome-ignore lint/correctness/useExhaustiveDependencies: the virtualizer is another one with every rendering
  useEffect(() => {
    if (current >= 0) virtual.scrollToIndex(current, { align: 'auto' })
  }, [current])
}

/** The headings: bodies where there are several, then quantities with their units. */
function HeadRows({ columns, whose }: { columns: readonly DataColumn[]; whose: readonly string[] }) {
  const { bodies } = useInvestigation()
  return (
    <>
      {whose.length > 1 && (
        <Flex role="row" height={`${ROW}px`} align="center">
          <Box width={`${WIDE.frame + WIDE.time}px`} role="columnheader" />
          {whose.map((id) => (
            <Box
              key={id}
              role="columnheader"
              width={`${columns.filter((column) => column.body === id).length * WIDE.column}px`}
              fontWeight="600"
              paddingRight="3"
              textAlign="right"
              truncate
            >
              {bodies[id]?.name}
            </Box>
          ))}
        </Flex>
      )}
      <Flex role="row" height={`${ROW}px`} align="center" fontWeight="600">
        <Head width={WIDE.frame} isLeft>
          frame
        </Head>
        <Head width={WIDE.time}>
          <SymbolText symbol="t" subscript="" /> (s)
        </Head>
        {columns.map((column) => (
          <Head key={column.body + column.id} width={WIDE.column} title={columnText(column) ?? column.name}>
            <SymbolText symbol={column.symbol} subscript={column.subscript} />
            {column.unit && ` (${column.unit})`}
          </Head>
        ))}
      </Flex>
    </>
  )
}

/** A row of the table; a double click on a value opens it for correction. */
function Row({
  table,
  row,
  top,
  isCurrent,
  isChosen,
  isSuspicious,
  editing,
  edit,
  choose,
}: {
  table: DataTable
  row: number
  /** In pixels from the first row. */
  top: number
  isCurrent: boolean
  isChosen: boolean
  isSuspicious: boolean
  /** Index of the column that is being corrected; null if there is none. */
  editing: number | null
  edit(column: number | null): void
  choose(event: MouseEvent): void
}) {
  const { columns, frames, until, times, isInterpolated } = table
  return (
    <Flex
      role="row"
      aria-rowindex={row + 1}
      aria-selected={isChosen}
      position="absolute"
      top="0"
      left="0"
      width="100%"
      height={`${ROW}px`}
      align="center"
      cursor="pointer"
      userSelect="none"
      fontFamily="mono"
      style={{ transform: `translateY(${top}px)` }}
      bg={isCurrent ? 'saffron.tint' : isChosen ? 'petrol.tint' : undefined}
      _hover={{ bg: isChosen ? undefined : 'paper' }}
      onClick={choose}
    >
      <Box role="cell" width={`${WIDE.frame}px`} paddingLeft="4" whiteSpace="nowrap">
        {isInterpolated ? '≈' : frames[row]}
        {until[row] > frames[row] && `–${until[row]}`}
        {isSuspicious && <Suspicious frame={frames[row]} />}
      </Box>
      <Cell width={WIDE.time}>{fixed(times[row], 4)}</Cell>
      {columns.map((column, at) =>
        editing === at ? (
          <MarkCorrection
            key={column.body + column.id}
            column={column}
            row={row}
            table={table}
            width={WIDE.column}
            done={() => edit(null)}
          />
        ) : (
          <Cell
            key={column.body + column.id}
            width={WIDE.column}
            title={titleOf(column, row)}
            isSoft={isInterpolated}
            onDoubleClick={
              CORRECTED.includes(column.id) && !isInterpolated && Number.isFinite(column.values[row])
                ? () => edit(at)
                : undefined
            }
          >
            {rounded(column.values[row], column.errors[row])}
          </Cell>
        ),
      )}
    </Flex>
  )
}

function titleOf(column: DataColumn, row: number): string {
  const { values, errors, unit, id } = column
  if (Number.isNaN(values[row])) return columnText(column) ?? ''
  const hint = CORRECTED.includes(id) ? ' · double-click to correct the mark' : ''
  return measurement(values[row], errors[row], unit) + hint
}

function Head({
  width,
  isLeft = false,
  ...rest
}: {
  width: number
  isLeft?: boolean
  title?: string
  children: React.ReactNode
}) {
  return (
    <Box
      role="columnheader"
      width={`${width}px`}
      flex="none"
      paddingLeft={isLeft ? '4' : undefined}
      paddingRight="3"
      textAlign={isLeft ? 'left' : 'right'}
      truncate
      {...rest}
    />
  )
}

function Cell({
  width,
  isSoft = false,
  ...rest
}: {
  width: number
  isSoft?: boolean
  title?: string
  onDoubleClick?: (() => void) | undefined
  children: string
}) {
  return (
    <Box
      role="cell"
      width={`${width}px`}
      flex="none"
      paddingRight="3"
      textAlign="right"
      fontStyle={isSoft ? 'italic' : undefined}
      {...rest}
    />
  )
}

function Suspicious({ frame }: { frame: number }) {
  return (
    <Box
      as="span"
      display="inline-block"
      marginLeft="2"
      verticalAlign="-2px"
      color="alarm"
      role="img"
      aria-label="outlier: it does not fit the motion of its neighbours"
      title="outlier: it does not fit the motion of its neighbours"
      data-stray-row={frame}
    >
      <TriangleAlert size={14} />
    </Box>
  )
}
