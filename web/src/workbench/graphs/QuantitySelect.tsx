import { analyse } from '@apokinema/core/analysis'
import { type Body, type Investigation, inOrder, TIME } from '@apokinema/core/investigation'
import { areAlike, QUANTITY_GROUPS, type QuantityInfo, quantitiesOf } from '@apokinema/core/motion'
import { NativeSelect } from '@chakra-ui/react'
import { useInvestigation } from '../../document/SessionContext.tsx'

/** Returns the quantities of a body in their groups, with custom ones. */
export function quantityGroups(
  investigation: Investigation,
  body: Body,
): { name: string; quantities: QuantityInfo[] }[] {
  const has = new Set(
    quantitiesOf(body, Object.keys(investigation.bodies).length).map(({ id }) => id as string),
  )
  const own = inOrder(investigation.quantities).flatMap(([id]) => analyse(investigation).quantity(id) ?? [])
  return [
    ...QUANTITY_GROUPS.map(({ name, quantities }) => ({
      name,
      quantities: quantities.filter(({ id }) => has.has(id)),
    })),
    { name: 'Your own', quantities: own },
  ].filter(({ quantities }) => quantities.length > 0)
}

/** A select of a body's quantities. */
export function QuantitySelect({
  label,
  body,
  value,
  withTime = false,
  like,
  choose,
}: {
  label: string
  body: Body
  value: string
  withTime?: boolean
  /** Offers only quantities with the unit of this one. */
  like?: QuantityInfo
  choose: (quantity: string) => void
}) {
  const investigation = useInvestigation()
  const groups = quantityGroups(investigation, body)
    .map(({ name, quantities }) => ({
      name,
      quantities: like ? quantities.filter((one) => areAlike(one.dimension, like.dimension)) : quantities,
    }))
    .filter(({ quantities }) => quantities.length > 0)
  return (
    <NativeSelect.Root size="xs">
      <NativeSelect.Field
        aria-label={label}
        value={value}
        onChange={({ target }) => choose(target.value)}
        onKeyDown={(event) => event.stopPropagation()}
      >
        {withTime && <option value={TIME}>time</option>}
        {groups.map(({ name, quantities }) => (
          <optgroup key={name} label={name}>
            {quantities.map(({ id, name: words }) => (
              <option key={id} value={id}>
                {words}
              </option>
            ))}
          </optgroup>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
