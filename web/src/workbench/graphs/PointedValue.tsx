import type { AxisDescription, GraphDescription, SeriesDescription } from '@apokinema/core/graphs'
import { measurement, significant, withUnit } from '@apokinema/core/units'
import { Box, Text } from '@chakra-ui/react'
import { type StoreApi, useStore } from 'zustand'
import { SymbolText } from '../SymbolText.tsx'
import type { PointedState } from './useGraphHands.ts'

/** Share of the standard error below which the bias is not shown. */
const WORTH_SAYING = 0.2

/** Value, error, time and frame of the point under the pointer. */
export function PointedValue({
  description: { x: xAxis, y: yAxis, isTime },
  series: { table, points },
  pointed: store,
}: {
  description: GraphDescription
  series: SeriesDescription
  pointed: StoreApi<PointedState>
}) {
  const { pointed } = useStore(store)
  // Points that no longer exist are not shown.
  if (!pointed || !points.includes(pointed.point)) return null
  const { point, x, y, width } = pointed
  const isLeft = x > 0.6 * width
  const { row, frame, bias, errorY } = point
  return (
    <Box
      position="absolute"
      left={`${x}px`}
      top={`${y}px`}
      transform={`translate(${isLeft ? 'calc(-100% - 12px)' : '12px'}, -50%)`}
      bg="panel"
      border="1px solid"
      borderColor="line"
      borderRadius="6px"
      paddingX="2.5"
      paddingY="1.5"
      fontSize="small"
      lineHeight="1.35"
      whiteSpace="nowrap"
      pointerEvents="none"
      zIndex="1"
      data-pointed={frame}
    >
      <Text fontWeight="600">
        <Value axis={yAxis} value={point.y} error={errorY} />
      </Text>
      {!isTime && (
        <Text fontWeight="600">
          <Value axis={xAxis} value={point.x} error={point.errorX} />
        </Text>
      )}
      <Text color="ink.muted">
        at {withUnit(table.times[row].toFixed(3), 's')} · frame {frame}
        {table.until[row] > frame && ` to ${table.until[row]}, at rest`}
      </Text>
      {bias > WORTH_SAYING * errorY && (
        <Text color="ink.muted">smoothing: off by up to {withUnit(significant(bias, 2), yAxis.unit)}</Text>
      )}
    </Box>
  )
}

function Value({ axis, value, error }: { axis: AxisDescription; value: number; error: number }) {
  const [before, behind] = axis.transform.around
  return (
    <>
      {before}
      <SymbolText symbol={axis.symbol} subscript={axis.subscript} />
      {behind} {measurement(value, error, axis.unit)}
    </>
  )
}
