import type { AxisDescription } from '@apokinema/core/graphs'
import { Text } from '@chakra-ui/react'

/** The symbol of a quantity: italic, with its subscript. */
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

/** The text at an axis: symbol and unit, or its custom label. */
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
