import { bodyNames } from '@apokinema/core/investigation'
import { tableBlock } from '@apokinema/words/report/choices'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { Copy } from 'lucide-react'
import { memo } from 'react'
import { TickBox } from '../../common/TickBox.tsx'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useTable } from '../tableStore.ts'
import { goToNextOutlier, useTrackDiagnosis } from '../trackDiagnosis.ts'
import { usePutIntoReport } from '../usePutIntoReport.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { ColumnsMenu } from './ColumnsMenu.tsx'
import { copyTable, pickedRows } from './copyTable.ts'
import { DataTableView } from './DataTableView.tsx'
import { ExportDialog } from './ExportDialog.tsx'
import { useDataTable } from './useDataTable.ts'

/** The data table, which slides up from the bottom, and its exports. */
export const DataBar = memo(function DataBar({ body }: { body: string }) {
  const { bodies } = useInvestigation()
  const { open, rounded, rows, all } = useTable()
  const table = useDataTable(body)
  const diagnosis = useTrackDiagnosis(body)
  const names = bodyNames(bodies)
  const putIntoReport = usePutIntoReport()
  const whose = [...new Set(table.columns.map((column) => column.body))]
  const shownColumns = [...new Set(table.columns.map((column) => column.id))]
  const even = table.isInterpolated ? table.times.length : null
  const copy = () => void copyTable(pickedRows(table, rows), names, rounded)
  const isSome = rows !== null && rows.from !== rows.to && !table.isInterpolated
  return (
    <Box
      flex="none"
      bg="paper"
      borderTop="1px solid"
      borderColor="line"
      onKeyDown={(event) => {
        if (!open || !(event.ctrlKey || event.metaKey) || event.key !== 'c') return
        if (String(window.getSelection()) !== '') return
        event.preventDefault()
        copy()
      }}
    >
      {open && <DataTableView table={table} body={body} />}
      <Flex minHeight="11" align="center" columnGap="3" paddingX="4" flexWrap="wrap">
        <Button
          size="xs"
          variant="ghost"
          aria-expanded={open}
          onClick={() => useTable.setState({ open: !open })}
        >
          {open ? 'Hide the table' : 'Table'}
        </Button>
        <Text color="ink.muted" fontSize="small" truncate hideBelow={open ? undefined : 'md'}>
          {all ? 'All bodies' : bodies[body].name} ·{' '}
          {table.frames.length === 1 ? '1 row' : `${table.frames.length} rows`}
        </Text>
        {open && diagnosis.outliers.length > 0 && (
          <Button
            size="xs"
            variant="outline"
            bg="panel"
            color="alarm"
            title="Go to the next outlier"
            onClick={() => goToNextOutlier(body, diagnosis, useWorkbench.getState().frame)}
          >
            {diagnosis.outliers.length} outlier{diagnosis.outliers.length === 1 ? '' : 's'}
          </Button>
        )}
        {open && (
          <>
            <ColumnsMenu body={body} />
            <Button size="xs" variant="outline" bg="panel" onClick={copy}>
              <Copy size={14} /> {isSome ? 'Copy the selected rows' : 'Copy'}
            </Button>
            <TickBox on={rounded} set={(on) => useTable.setState({ rounded: on })}>
              rounded to the errors
            </TickBox>
          </>
        )}
        <Box flex="1" />
        <Button
          size="xs"
          variant="outline"
          bg="panel"
          onClick={() => putIntoReport(tableBlock(whose, shownColumns, even))}
        >
          Put into the report
        </Button>
        <ExportDialog table={table} names={names} />
      </Flex>
    </Box>
  )
})
