import { API } from '@apokinema/core/api'
import {
  type Cell,
  type ColumnContent,
  isSetUp,
  type SettingsPart,
  seriesEdits,
  type TableColumn,
  type TableTrial,
  totalError,
} from '@apokinema/core/series'
import { measurement } from '@apokinema/core/units'
import { cellTroubleText, measuringText, settingsText, viewText } from '@apokinema/words/series'
import type { SystemStyleObject } from '@chakra-ui/react'
import isEqual from 'fast-deep-equal'
import { memo, useState } from 'react'
import { AskedMenu, type OpenedAt, RowMenu } from '../common/MoreMenu.tsx'
import { CellField, parseMeasured } from '../common/TextField.tsx'
import { LeaveOutWindow } from './LeaveOutWindow.tsx'
import { useOpenSeries, useSeriesAnalysis, useSeriesSession } from './SeriesContext.tsx'
import { useTakeOver } from './SettingsNotice.tsx'

/**
 * How the plain elements of the rows look. A field looks like one when it is pointed at, in use, or empty. What every row shows
 * is drawn by styles where it can be: icons have as many elements as all else in a row.
 */
export const ROW_STYLES: SystemStyleObject = {
  '& tr[data-trial]': {
    bg: 'panel',
    '& > td': {
      paddingX: '2',
      paddingY: '1.5',
      borderBottom: '1px solid',
      borderColor: 'line',
      textAlign: 'left',
      verticalAlign: 'middle',
    },
    '& > td:first-of-type a': {
      display: 'flex',
      alignItems: 'center',
      justifyContent: 'center',
      width: '76px',
      height: '43px',
      bg: 'stage',
      borderRadius: '4px',
      overflow: 'hidden',
    },
    // The holes of a film where there is no picture.
    '& > td:first-of-type a:empty': {
      color: 'whiteAlpha.600',
      backgroundImage:
        'linear-gradient(90deg, currentColor 50%, transparent 50%), linear-gradient(90deg, currentColor 50%, transparent 50%)',
      backgroundSize: '8px 3px',
      backgroundPosition: '2px 5px, 2px calc(100% - 5px)',
      backgroundRepeat: 'repeat-x',
    },
    '& img': { width: '100%', height: '100%', objectFit: 'cover' },
    '& > td:nth-of-type(2)': { minWidth: '9rem', maxWidth: '13rem' },
    '& > td:nth-of-type(2) a': {
      display: 'block',
      fontWeight: '600',
      overflow: 'hidden',
      textOverflow: 'ellipsis',
      whiteSpace: 'nowrap',
    },
    '& small': { display: 'block', fontSize: 'small', color: 'ink.muted' },
    '& small[data-notes]': { minWidth: '9rem', maxWidth: '15rem', color: 'ink' },
    '& small[data-notes="0"]': { color: 'ink.muted' },
    '& [data-value]': { fontFamily: 'mono', whiteSpace: 'nowrap' },
    '& input': {
      width: '100%',
      minWidth: '7rem',
      height: '8',
      paddingX: '2',
      bg: 'panel',
      border: '1px solid transparent',
      borderRadius: 'sm',
      fontFamily: 'mono',
      fontSize: 'small',
      _hover: { borderColor: 'line' },
      '&[value=""]': { borderColor: 'line' },
      _focusVisible: { borderColor: 'petrol', outline: '1px solid', outlineColor: 'petrol' },
    },
    '& [role=alert]': { color: 'alarm', fontSize: 'small', marginTop: '1' },
    '& button': { padding: '2', borderRadius: 'sm', cursor: 'pointer', _hover: { bg: 'paper' } },
    // Three dots.
    '& button:empty::before': {
      content: '""',
      display: 'block',
      width: '4',
      height: '4',
      background: 'radial-gradient(circle, currentColor 1.1px, transparent 1.7px) center / 16px 6px',
    },
    '&[data-left-out]': {
      opacity: 0.65,
      '& > td [data-value], & > td input': { textDecoration: 'line-through' },
    },
  },
}

/** What a row shows, as plain values: a row is rendered again only when one of them changes. */
interface ShownRow {
  id: string
  title: string
  /** Id of the footage where the server has a picture of it. */
  poster: string | null
  isPattern: boolean
  isBare: boolean
  isMeasurable: boolean
  leftOut: string | null
  differing: SettingsPart[]
  notes: string[]
  cells: ShownCell[]
}

/** What a cell shows: a field, a number with its error, or why there is none. */
type ShownCell = { column: string; name: string } & (
  | { kind: 'field'; text: string; content: Extract<ColumnContent, { kind: 'number' | 'word' }> }
  | { kind: 'number'; value: number; error: number }
  | { kind: 'none'; why: string }
)

/** A trial in the table: its picture, its cells, and what is to be looked at. */
export function TrialRow({
  row,
  columns,
  isOutlier,
}: {
  row: TableTrial
  columns: readonly TableColumn[]
  /** Whether it lies off a line. */
  isOutlier: boolean
}) {
  const analysis = useSeriesAnalysis()
  const { listed, documents, isLoading } = useOpenSeries()
  const { id, trial, document } = row
  const about = listed.get(id)
  const differing = analysis.differing().find((one) => one.id === id)?.parts ?? []
  const isBare = document !== null && !isSetUp(document)
  const isPattern = analysis.patternId() === id
  const shown: ShownRow = {
    id,
    title: about?.title ?? 'A deleted investigation',
    poster: about?.poster ?? null,
    isPattern,
    isBare,
    isMeasurable: !isPattern && !isBare && trial.measuring?.kind !== 'waiting',
    leftOut: trial.leftOut,
    differing,
    notes: [
      isBare ? 'Not set up yet.' : '',
      differing.length > 0 ? `Differs in ${settingsText(differing)}.` : '',
      viewText(trial.view),
      trial.measuring?.kind === 'question' ? measuringText(trial.measuring.why) : '',
      isOutlier ? 'Lies off the line.' : '',
      trial.leftOut !== null ? `Left out: ${trial.leftOut}` : '',
    ].filter((note) => note !== ''),
    cells: columns.map((column) =>
      shownCell(column, analysis.table.cell(id, column.id), isLoading && !documents.has(id)),
    ),
  }
  return <PlainRow shown={shown} />
}

function shownCell({ id, column }: TableColumn, cell: Cell, isAwaited: boolean): ShownCell {
  const { content, name } = column
  const about = { column: id, name }
  if (content.kind === 'word')
    return { ...about, kind: 'field', content, text: cell.kind === 'word' ? cell.word : '' }
  if (content.kind === 'number') {
    const text = cell.kind === 'number' ? measurement(cell.value.value, cell.value.own, '') : ''
    return { ...about, kind: 'field', content, text }
  }
  if (cell.kind === 'number')
    return { ...about, kind: 'number', value: cell.value.value, error: totalError(cell.value) }
  if (isAwaited) return { ...about, kind: 'none', why: '…' }
  return { ...about, kind: 'none', why: cell.kind === 'trouble' ? cellTroubleText(cell.trouble) : '–' }
}

/** A row of plain elements, which the table styles and whose links it follows. */
const PlainRow = memo(
  function PlainRow({ shown }: { shown: ShownRow }) {
    const { id, title, poster, isPattern, leftOut, notes, cells } = shown
    const address = `/investigations/${id}`
    return (
      <tr data-trial={id} data-left-out={leftOut === null ? undefined : ''}>
        <td>
          <a href={address} aria-label={`Open ${title}`}>
            {poster && <img src={API.poster(id, poster)} alt="" loading="lazy" />}
          </a>
        </td>
        <td>
          <a href={address} title={title}>
            {title}
          </a>
          {isPattern && <small>the others are set up like this one</small>}
        </td>
        {cells.map((cell) => (
          <td key={cell.column}>
            <PlainCell trial={id} title={title} cell={cell} />
          </td>
        ))}
        <td>
          <small data-notes={notes.length}>{notes.length > 0 ? notes.join(' ') : '–'}</small>
        </td>
        <td>
          <RowMenu of={title}>{(at) => <TrialMenu shown={shown} at={at} />}</RowMenu>
        </td>
      </tr>
    )
  },
  ({ shown: before }, { shown }) => isEqual(before, shown),
)

function PlainCell({ trial, title, cell }: { trial: string; title: string; cell: ShownCell }) {
  const session = useSeriesSession()
  const { column, name } = cell
  if (cell.kind === 'none') return <small>{cell.why}</small>
  if (cell.kind === 'number')
    return (
      <span data-value={cell.value} data-error={cell.error}>
        {measurement(cell.value, cell.error, '')}
      </span>
    )
  const { content, text } = cell
  const type = (typed: Parameters<typeof seriesEdits.setTyped>[2]) => {
    session.edit(`type ${name}`, seriesEdits.setTyped(trial, column, typed))
    return null
  }
  return (
    <CellField
      label={`${name} of ${title}`}
      value={text}
      {...(content.kind === 'number' ? { inputMode: 'decimal' } : { maxLength: 120 })}
      onCommit={(typed) => {
        if (typed === '') return type(null)
        if (content.kind === 'word') return type({ kind: 'word', word: typed })
        const measured = parseMeasured(typed)
        if (!measured) return 'A number such as 12.0 ± 0.5.'
        const isStated = /±|\+-|\+\/-/.test(typed)
        return type({
          kind: 'number',
          value: measured.value,
          error: isStated ? measured.error : content.error,
        })
      }}
    />
  )
}

/** What can be done with a trial; open at first. */
function TrialMenu({
  shown: { id, title, leftOut, differing, isMeasurable },
  at,
}: {
  shown: ShownRow
  at: OpenedAt
}) {
  const session = useSeriesSession()
  const { documents } = useOpenSeries()
  const takeOver = useTakeOver()
  const [isLeavingOut, setLeavingOut] = useState(false)
  const makeAlike = () => {
    const document = documents.get(id)
    if (document) void takeOver([{ id, document, parts: differing }])
  }
  return (
    <>
      <AskedMenu
        of={title}
        size="sm"
        at={at}
        choices={[
          leftOut !== null
            ? {
                label: 'Count it again',
                act: () => session.edit('count a trial again', seriesEdits.leaveOut(id, null)),
              }
            : { label: 'Leave out …', act: () => setLeavingOut(true) },
          ...(isMeasurable
            ? [
                {
                  label: 'Measure it by itself',
                  act: () =>
                    session.edit('measure a trial', seriesEdits.setMeasuring(id, { kind: 'waiting' })),
                },
              ]
            : []),
          ...(differing.length > 0 ? [{ label: 'Make it like the first one', act: makeAlike }] : []),
          {
            label: 'Set up new trials like this one',
            act: () => session.edit('choose the trial to set up like', seriesEdits.setPattern(id)),
          },
          {
            label: 'Take out of the series',
            grave: true,
            act: () => session.edit(`take ${title} out of the series`, seriesEdits.removeTrial(id)),
          },
        ]}
      />
      {isLeavingOut && <LeaveOutWindow trial={id} title={title} close={() => setLeavingOut(false)} />}
    </>
  )
}
