import { type Moment, type SummaryValue, stretchDetails, stretchSummary } from '@apokinema/core/fitting'
import type { Stretch } from '@apokinema/core/investigation'
import type { MotionTable } from '@apokinema/core/motion'
import { measurement, rounded, significant, withUnit } from '@apokinema/core/units'
import { Box, Grid, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'

const KINDS: Record<Moment['kind'], string> = {
  maximum: 'highest',
  minimum: 'lowest',
  up: 'zero ↗',
  down: 'zero ↘',
}

/** Maximum number of moments listed. */
const LISTED = 40

/** Details of a stretch: spread, area, peaks, zero crossings, period. */
export function StretchMore({
  stretch,
  table,
  quantity,
}: {
  stretch: Stretch
  table: MotionTable
  quantity: string
}) {
  const { unit } = table.column(quantity)
  const { mean, points } = stretchSummary(table, quantity, stretch)
  if (points < 3)
    return (
      <Text fontSize="small" color="ink.muted">
        Too few points to say more.
      </Text>
    )
  const found = stretchDetails(table, quantity, stretch)
  const digits = (value: number) => withUnit(rounded(value, mean.error * Math.sqrt(points)), unit)
  const told = ({ value, error }: SummaryValue, of: string) => measurement(value, error, of)
  const { period } = found
  return (
    <Box fontSize="small" paddingTop="1" data-stretch-more>
      <Grid templateColumns="auto 1fr" columnGap="4">
        <Row name="points">{points}</Row>
        <Row name="standard deviation">{withUnit(significant(found.deviation, 3), unit)}</Row>
        <Row name="error of the mean">{withUnit(significant(mean.error, 2), unit)}</Row>
        <Row name="median">{digits(found.median)}</Row>
        <Row name="least, most">
          {digits(found.least)}, {digits(found.most)}
        </Row>
        <Row name="area below it">
          {told(found.area, unit.endsWith('/s') ? unit.slice(0, -2) : `${unit}·s`)}
        </Row>
        {period && (
          <Row name="mean period">
            {Number.isFinite(period.deviation)
              ? `${measurement(period.mean, period.deviation, 's')} (SD of ${period.count})`
              : withUnit(significant(period.mean, 4), 's')}
          </Row>
        )}
      </Grid>
      <Moments moments={found.peaks} unit={unit} />
      <Moments moments={found.crossings} unit={unit} />
    </Box>
  )
}

function Row({ name, children }: { name: string; children: ReactNode }) {
  return (
    <>
      <Text color="ink.muted">{name}</Text>
      <Text fontFamily="mono">{children}</Text>
    </>
  )
}

function Moments({ moments, unit }: { moments: Moment[]; unit: string }) {
  if (moments.length === 0) return null
  return (
    <Grid templateColumns="auto 1fr auto" columnGap="3" marginTop="2" maxHeight="160px" overflowY="auto">
      {moments.slice(0, LISTED).map(({ time, value, kind }) => (
        <Box key={time.value} display="contents">
          <Text color="ink.muted">{KINDS[kind]}</Text>
          <Text fontFamily="mono">{measurement(time.value, time.error, 's')}</Text>
          <Text fontFamily="mono" textAlign="right">
            {kind === 'maximum' || kind === 'minimum' ? withUnit(significant(value, 4), unit) : ''}
          </Text>
        </Box>
      ))}
    </Grid>
  )
}
