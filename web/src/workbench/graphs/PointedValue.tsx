import type { Column, MotionTable, Quantity } from '@apokinema/core/motion'
import { measurement, significant, withUnit } from '@apokinema/core/units'
import { Box, Text } from '@chakra-ui/react'
import { SymbolText } from './Quantities.tsx'

/** A smaller share of the standard error is nothing to speak of. */
const WORTH_SAYING = 0.2

/** What stands at the point of a graph that is pointed at: value and error, time and frame. */
export function PointedValue({
  quantity,
  column,
  table,
  row,
  at,
}: {
  quantity: Quantity
  column: Column
  table: MotionTable
  row: number
  /** In pixels of the graph, with the graph's width. */
  at: { x: number; y: number; width: number }
}) {
  const bias = column.bias()[row]
  const isLeft = at.x > 0.6 * at.width
  return (
    <Box
      position="absolute"
      left={`${at.x}px`}
      top={`${at.y}px`}
      transform={`translate(${isLeft ? 'calc(-100% - 12px)' : '12px'}, -50%)`}
      bg="panel"
      border="1px solid"
      borderColor="line"
      borderRadius="6px"
      paddingX="2.5"
      paddingY="1.5"
      fontSize="13px"
      lineHeight="1.35"
      whiteSpace="nowrap"
      pointerEvents="none"
      zIndex="1"
      data-pointed={table.frames[row]}
    >
      <Text fontWeight="600">
        <SymbolText symbol={quantity.symbol} subscript={quantity.subscript} />{' '}
        {measurement(column.values[row], column.errors[row], column.unit)}
      </Text>
      <Text color="ink.muted">
        at {withUnit(table.times[row].toFixed(3), 's')} · frame {table.frames[row]}
        {table.until[row] > table.frames[row] && ` to ${table.until[row]}, at rest`}
      </Text>
      {bias > WORTH_SAYING * column.errors[row] && (
        <Text color="ink.muted">smoothing: off by up to {withUnit(significant(bias, 2), column.unit)}</Text>
      )}
    </Box>
  )
}
