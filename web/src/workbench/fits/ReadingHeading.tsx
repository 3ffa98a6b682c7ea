import { type Estimate, halfWidth } from '@apokinema/core/fitting'
import { measurement, significant, withUnit } from '@apokinema/core/units'
import { Box, Text } from '@chakra-ui/react'

/**
 * A value by its name with its error, and its 95 % interval.
 *
 * @param says what is said where there is no interval; nothing if it is left out
 */
export function ReadingHeading({
  name,
  estimate,
  says,
  ...data
}: {
  name: string
  estimate: Estimate
  says?: string
  'data-reading'?: string
  'data-mean'?: string
}) {
  const { value, error, unit } = estimate
  const wide = halfWidth(estimate)
  const interval = Number.isFinite(wide) ? `95 % interval: ± ${withUnit(significant(wide, 2), unit)}` : says
  return (
    <>
      <Text fontWeight="600" fontSize="lead" data-value={value} data-error={error} {...data}>
        {name}{' '}
        <Box as="span" whiteSpace="nowrap">
          {measurement(value, error, unit)}
        </Box>
      </Text>
      {interval && (
        <Text fontSize="small" color="ink.muted">
          {interval}
        </Text>
      )}
    </>
  )
}
