import type { AxisDescription } from '@apokinema/core/graphs'
import { Text } from '@chakra-ui/react'

/** A quantity's symbol as it is set: italic, with what stands below the line. */
export function SymbolText({ symbol, subscript }: { symbol: string; subscript: string }) {
  return (
    <Text as="span" fontStyle="italic" whiteSpace="nowrap">
      {symbol}
      {subscript && (
        <Text as="sub" fontSize="0.72em" fontStyle={/\d/.test(subscript) ? 'normal' : 'italic'}>
          {subscript}
        </Text>
      )}
    </Text>
  )
}

/** What stands at an axis: symbol and unit, or the words that somebody has given it. */
export function AxisText({ axis }: { axis: AxisDescription }) {
  if (axis.label) return <>{axis.label}</>
  const [before, behind] = axis.transform.around
  return (
    <>
      {before}
      <SymbolText symbol={axis.symbol} subscript={axis.subscript} />
      {behind}
      {axis.unit && ` in ${axis.unit}`}
    </>
  )
}
