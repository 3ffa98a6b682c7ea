import type { NamedReading } from '@apokinema/core/fitting'
import { measurement } from '@apokinema/core/units'
import { Box, Grid, Text } from '@chakra-ui/react'

/** The other readings of a fit; a click puts one on top. */
export function OtherReadings({
  readings,
  choose,
}: {
  readings: readonly NamedReading[]
  choose(reading: NamedReading): void
}) {
  return (
    <Grid templateColumns="1fr auto" columnGap="3" marginTop="2" fontSize="small">
      {readings.map((one) => (
        <Box
          key={one.id}
          display="contents"
          data-reading={one.id}
          data-value={one.value}
          data-error={one.error}
        >
          <Text
            as="button"
            textAlign="left"
            color="ink.muted"
            _hover={{ color: 'petrol' }}
            title="Put this one on top, to compare it"
            onClick={() => choose(one)}
          >
            {one.name}
          </Text>
          <Text fontFamily="mono" textAlign="right">
            {measurement(one.value, one.error, one.unit)}
          </Text>
        </Box>
      ))}
    </Grid>
  )
}
