import type { Derivation, DerivativeId } from '@apokinema/core/investigation'
import { derivationName } from '@apokinema/words/derivatives'
import { NativeSelect } from '@chakra-ui/react'

/** Half window sizes that are offered. */
const REACHES = [2, 3, 4, 6, 10]

const OFFERED: Derivation[] = [
  { method: 'three-point', reach: 3, weighted: false },
  ...(['parabola', 'cubic'] as const).flatMap((method) =>
    REACHES.map((reach) => ({ method, reach, weighted: false })),
  ),
  { method: 'spline', reach: 3, weighted: false },
]

/** Returns true if a method has a window of points. */
export const hasWindow = ({ method }: Derivation) => method === 'parabola' || method === 'cubic'
const keyOf = ({ method, reach, weighted }: Derivation) =>
  hasWindow({ method, reach, weighted }) ? `${method} ${reach}${weighted ? ' weighted' : ''}` : method

/** Styles of a select that looks like plain text. */
const SMALL = {
  height: '4.5',
  fontSize: 'tiny',
  color: 'ink.muted',
  paddingStart: '0',
  paddingEnd: '6',
} as const

/** How velocity and acceleration are derived; where `usual` is given, also as everywhere else (null), in a line of small words. */
export function DerivationChoice<T extends Derivation | null>({
  label,
  value,
  fallback,
  choose,
}: {
  label: string
  value: T
  fallback?: Derivation
  choose: (derivation: T) => void
}) {
  const offered = value && !OFFERED.some((one) => keyOf(one) === keyOf(value)) ? [...OFFERED, value] : OFFERED
  return (
    <NativeSelect.Root size="xs" width={fallback ? 'auto' : '100%'} variant={fallback ? 'plain' : 'outline'}>
      <NativeSelect.Field
        aria-label={label}
        {...(fallback && SMALL)}
        textOverflow="ellipsis"
        value={value ? keyOf(value) : ''}
        onChange={({ target }) => {
          const [method, reach = '3', weighted] = target.value.split(' ')
          const chosen = {
            method: method as DerivativeId,
            reach: Number(reach),
            weighted: weighted !== undefined,
          }
          choose((method ? chosen : null) as T)
        }}
      >
        {fallback && <option value="">{derivationName(fallback)} (default)</option>}
        {offered.map((one) => (
          <option key={keyOf(one)} value={keyOf(one)}>
            {derivationName(one)}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
