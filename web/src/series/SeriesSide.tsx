import type { NamedReading } from '@apokinema/core/fitting'
import type { Against } from '@apokinema/core/investigation'
import {
  readingLookedAt,
  type SeriesAnalysis,
  type SeriesMean,
  type ShownSeriesFit,
  seriesEdits,
  type TableColumn,
} from '@apokinema/core/series'
import { fixed, measurement, significant, withUnit } from '@apokinema/core/units'
import { comparisonText } from '@apokinema/words/comparisons'
import { problemText } from '@apokinema/words/problems'
import { calculationBlock, fitBlock } from '@apokinema/words/report/choices'
import { meanBlock } from '@apokinema/words/report/seriesChoices'
import { agreementText, scatterText } from '@apokinema/words/series'
import { Box, Button, Flex, Grid, HStack, Stack, Text } from '@chakra-ui/react'
import { MoreMenu } from '../common/MoreMenu.tsx'
import { CalculationSheet } from '../workbench/calculations/CalculationSheet.tsx'
import { Budget } from '../workbench/fits/Budget.tsx'
import { ExpectedField } from '../workbench/fits/ExpectedField.tsx'
import { Formula } from '../workbench/fits/Formula.tsx'
import { SCHOOL_G } from '../workbench/fits/gravity.ts'
import { OtherReadings } from '../workbench/fits/OtherReadings.tsx'
import { ReadingHeading } from '../workbench/fits/ReadingHeading.tsx'
import { TrialsReportButton } from './report/TrialsReportButton.tsx'
import { useOpenSeries, useSeriesAnalysis, useSeriesSession } from './SeriesContext.tsx'

/** What the trials say: the laws through them, and the means of what was measured. */
export default function SeriesSide() {
  const { isLoading } = useOpenSeries()
  const analysis = useSeriesAnalysis()
  // What is expected may follow from the pattern's g.
  if (isLoading && !analysis.patternDocument()) return null
  return <Results analysis={analysis} />
}

function Results({ analysis: { table, fits, series } }: { analysis: SeriesAnalysis }) {
  const varying = table.varyingConditions()
  const means = table.means().filter(({ column }) => column.column.content.kind === 'reading')
  const count = Object.keys(series.trials).length
  return (
    <Stack gap="5">
      {fits().map((fit, i) => (
        <FitCard key={fit.id} number={i + 1} shown={fit} />
      ))}
      {means.map(({ column, mean }) => (
        <MeanCard key={column.id} column={column} mean={mean} />
      ))}
      {fits().length + means.length === 0 && <Text color="ink.muted">{adviceFor(count, varying)}</Text>}
      <SeriesCalculations />
    </Stack>
  )
}

/** Results computed from means and laws; nothing before there is one. */
function SeriesCalculations() {
  const session = useSeriesSession()
  const analysis = useSeriesAnalysis()
  const known = analysis.knownValues()
  const { calculations } = analysis.series
  // The free fall alone is always there.
  if (known.length < 2 && Object.keys(calculations).length === 0) return null
  return (
    <Box as="section" data-calculations>
      <CalculationSheet
        sheet={{
          calculations,
          known,
          shown: analysis.calculations(),
          investigation: analysis.constantsDocument(),
          keep: (id, calculation) =>
            session.edit(
              `calculate ${calculation.name || calculation.symbol}`,
              seriesEdits.setCalculation(id, calculation),
            ),
          remove: (id, name) => session.edit(`remove ${name}`, seriesEdits.removeCalculation(id)),
          actions: (id, name) => <TrialsReportButton what={name} content={calculationBlock(id)} />,
        }}
        about="Results that follow from means and laws: friction from an intercept, g from a slope."
        example="-c0_1/k_1, mean_a/g"
      />
    </Box>
  )
}

/** Returns what to do where nothing can be said yet. */
function adviceFor(count: number, varying: readonly TableColumn[]): string {
  if (count < 2) return 'Add more trials: from two on, their mean and a law through them stand here.'
  if (varying.length === 0) return 'Once two trials are measured, their mean and its error stand here.'
  return `The trials differ in ${varying.map(({ column }) => column.name).join(' and ')}. Draw a reading against it below and fit a law, or group trials with equal values.`
}

function MeanCard({ column: { id, column, unit }, mean }: { column: TableColumn; mean: SeriesMean }) {
  const { mean: plain, weighted, agreement, count } = mean
  const isWeighted = agreement !== null && Math.abs(weighted.value - plain.value) > 0.02 * plain.error
  return (
    <Box as="section" aria-label={`Mean of ${column.name}`}>
      <Flex align="center" gap="2">
        <Text as="h2" fontWeight="600" flex="1">
          Mean of {count} trials
        </Text>
        <TrialsReportButton what={`the mean of ${column.name}`} content={meanBlock(id)} />
      </Flex>
      <Box bg="petrol.tint" borderRadius="8px" padding="3" marginTop="2">
        <ReadingHeading name={column.name} estimate={plain} data-mean={column.symbol} />
        {isWeighted && (
          <Text fontSize="small" color="ink.muted">
            Weighted by the errors: {measurement(weighted.value, weighted.error, unit)}
          </Text>
        )}
        {agreement && (
          <Text fontSize="small" marginTop="1" data-agreement>
            {agreementText(agreement)} (χ²/ν {significant(agreement.birgeRatio ** 2, 2)})
          </Text>
        )}
        <Budget reading={plain} />
      </Box>
    </Box>
  )
}

function FitCard({ number, shown }: { number: number; shown: ShownSeriesFit }) {
  const session = useSeriesSession()
  const { series } = useSeriesAnalysis()
  const { id, settings, fit, error, readings } = shown
  const graph = series.graphs[settings.graph]
  const [x, y] = [series.columns[graph.x], series.columns[graph.y]]
  const compared = readingLookedAt(shown)
  return (
    <Box as="section" aria-label={`Law ${number}`} data-series-fit={id}>
      <Flex align="center" gap="2">
        <Text as="h2" fontWeight="600" flex="1">
          {number} {fit?.name ?? 'Law through the trials'}
        </Text>
        <TrialsReportButton what={`law ${number}`} content={fitBlock(id)} />
        <MoreMenu
          of={`law ${number}`}
          size="2xs"
          choices={[
            {
              label: 'Remove',
              grave: true,
              act: () => session.edit('remove a law', seriesEdits.removeFit(id)),
            },
          ]}
        />
      </Flex>
      <Text fontSize="small" color="ink.muted">
        {y.name} against {x.name}
      </Text>
      {error && <Text color="alarm">{problemText(error)}</Text>}
      {fit && (
        <>
          {fit.formula && <Formula tex={`${y.symbol} = ${fit.formula}`} />}
          <Grid templateColumns="1fr auto" columnGap="3" fontSize="small">
            {fit.parameters.map(({ key, symbol, subscript, value, error: by, unit }) => (
              <Box key={key} display="contents">
                <Text>
                  {symbol}
                  <sub>{subscript}</sub>
                </Text>
                <Text fontFamily="mono" color="ink.muted" textAlign="right">
                  {measurement(value, by, unit)}
                </Text>
              </Box>
            ))}
          </Grid>
          {compared && (
            <FitReading
              shown={shown}
              reading={compared}
              others={readings.filter((one) => one !== compared)}
            />
          )}
        </>
      )}
    </Box>
  )
}

/** A reading of a law, compared with what is expected of it. */
function FitReading({
  shown,
  reading,
  others,
}: {
  shown: ShownSeriesFit
  reading: NamedReading
  others: readonly NamedReading[]
}) {
  const session = useSeriesSession()
  const analysis = useSeriesAnalysis()
  const { id, settings, fit, between } = shown
  const stated = settings.expected?.against ?? null
  // Readings of other fits are compared in their investigations only.
  const against = stated?.kind === 'reading' ? null : stated
  const expect = (chosen: Against | null, of = reading.id) =>
    session.edit(
      'change the expected value',
      seriesEdits.setFit(id, { expected: { reading: of, against: chosen } }),
    )
  const chiSquare = fit?.solution.reducedChiSquare ?? null
  return (
    <Box bg="petrol.tint" borderRadius="8px" padding="3" marginTop="2">
      <ReadingHeading name={reading.name} estimate={reading} data-reading={reading.id} />
      <HStack gap="2" align="flex-end" marginTop="2">
        <Box flex="1" minWidth="0">
          <ExpectedField
            investigation={analysis.constantsDocument()}
            unit={reading.unit}
            against={against}
            set={expect}
          />
        </Box>
        {reading.unit === 'm/s²' && against === null && (
          <Button
            size="xs"
            variant="outline"
            bg="panel"
            onClick={() =>
              expect({ kind: 'value', value: Math.sign(reading.value) * SCHOOL_G, error: 0, label: 'g' })
            }
          >
            g, {fixed(SCHOOL_G, 2)}
          </Button>
        )}
      </HStack>
      {against && (
        <Text fontSize="small" marginTop="1" data-comparison>
          {comparisonText(analysis.constantsDocument(), reading, against)}
        </Text>
      )}
      {chiSquare !== null && (
        <Text fontSize="small" marginTop="1">
          {scatterText({
            reducedChiSquare: chiSquare,
            freedom: fit?.solution.freedom ?? 0,
            between: between > 0 ? withUnit(significant(between, 2), fit?.unit ?? '') : null,
          })}
        </Text>
      )}
      <Budget reading={reading} />
      {others.length > 0 && <OtherReadings readings={others} choose={(one) => expect(null, one.id)} />}
    </Box>
  )
}
