import type { Investigation } from '../../investigation/index.ts'
import { type CustomDefinition, dimension, QUANTITIES, type QuantityInfo } from '../quantities/index.ts'

/**
 * Returns what a quantity says of itself, of one that somebody has defined, too; null for one that is gone.
 *
 * @param definitionOf gives a quantity that somebody has defined, by its id
 */
export function quantityInfo(
  { quantities }: Investigation,
  definitionOf: (id: string) => CustomDefinition | null,
  id: string,
): QuantityInfo | null {
  if (Object.hasOwn(QUANTITIES, id)) return QUANTITIES[id as keyof typeof QUANTITIES]
  const own = quantities[id]
  if (!own) return null
  return (
    definitionOf(id)?.quantity ?? {
      id,
      symbol: own.symbol,
      subscript: '',
      name: own.name,
      expression: own.expression,
      dimension: dimension({}),
      unit: own.unit,
      direction: 'size',
      needs: [],
    }
  )
}
