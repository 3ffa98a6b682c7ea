import type { GraphFit } from '@apokinema/core/analysis'
import { type ColumnFit, type FittedParameter, symbolTex } from '@apokinema/core/fitting'
import { edits, type Graph } from '@apokinema/core/investigation'
import { measurement, significant, withUnit } from '@apokinema/core/units'
import { closeness } from '@apokinema/words/fitText'
import { problemText } from '@apokinema/words/problems'
import { Box, Button, CloseButton, Flex, Grid, HStack, IconButton, Text } from '@chakra-ui/react'
import { Lock, LockOpen } from 'lucide-react'
import { Fold } from '../../common/Fold.tsx'
import { Select } from '../../common/Select.tsx'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/system.ts'
import { SymbolText } from '../SymbolText.tsx'
import { AtMoment } from './AtMoment.tsx'
import { CopyFit } from './CopyFit.tsx'
import { Correlations } from './Correlations.tsx'
import { Doubts } from './Doubts.tsx'
import { FitMenu } from './FitMenu.tsx'
import { Formula } from './Formula.tsx'
import { FreeFormFields } from './FreeFormFields.tsx'
import { ReadingBox } from './ReadingBox.tsx'
import { ResidualStrip } from './ResidualStrip.tsx'
import { Together } from './Together.tsx'
import { remodelled, useSuggesting } from './useFitting.ts'

/** One fit: formula, parameters, how well it fits, and what it says. */
export function FitCard({ shown, graph }: { shown: GraphFit; graph: Graph }) {
  const session = useSession()
  const investigation = useInvestigation()
  const { id, settings, fit, all, error } = shown
  const colour = BODY_PAINT[investigation.bodies[graph.body].colour]
  const xQuantity = shown.xQuantity ? shown.columns[0].table.column(shown.xQuantity).info : null
  const head = (
    <Flex align="center" gap="1">
      <Box flex="1" minWidth="0">
        <TextField
          label="Name of this fit"
          hideLabel
          variant="flushed"
          fontFamily="body"
          fontSize="14px"
          fontWeight="600"
          borderColor="transparent"
          bg="transparent"
          value={settings.name || (fit?.name ?? 'Fit')}
          maxLength={120}
          onCommit={(text) => {
            session.edit('name the fit', edits.changeFit(id, { name: text === fit?.name ? '' : text }))
            return null
          }}
        />
      </Box>
      {fit && (
        <Text fontSize="13px" color="ink.muted" flex="none" data-points={fit.points}>
          {fit.points} points
        </Text>
      )}
      <CloseButton
        size="2xs"
        aria-label="Delete this fit"
        title="Delete this fit"
        onClick={() => session.edit('delete the fit', edits.removeFit(id))}
      />
    </Flex>
  )
  const menu = (
    <FitMenu
      label="Model…"
      isPlain
      quantity={shown.columns[0].table.column(graph.quantity).info}
      xQuantity={xQuantity}
      onChoose={(choice) => {
        if (choice === 'suggest') useSuggesting.setState({ stretch: settings.stretch })
        else session.edit('fit another model', remodelled(id, choice, graph))
      }}
    />
  )
  if (!fit)
    return (
      <Box marginTop="2" data-fit>
        {head}
        {settings.model === 'free-form' && (
          <FreeFormFields id={id} settings={settings} xQuantity={xQuantity} />
        )}
        <Text color="alarm" role="alert">
          {error && problemText(error)}
        </Text>
        {menu}
      </Box>
    )
  const isOfSeveral = new Set(shown.columns.map(({ table }) => table.body)).size > 1
  const other = settings.form === 'physics' ? 'coefficients' : 'physics'
  const hasForms =
    fit.order !== null && fit.law.parameters.length > 1 && fit.law.linear.length === fit.parameters.length
  return (
    <Box marginTop="2" data-fit={settings.model}>
      {head}
      {settings.model === 'free-form' && <FreeFormFields id={id} settings={settings} xQuantity={xQuantity} />}
      {all.map((one) => (
        <Box key={`${one.member} ${one.quantity.id}`} marginTop="1">
          {isOfSeveral && (
            <Text fontSize="13px">{investigation.bodies[shown.columns[one.member].table.body]?.name}</Text>
          )}
          {one.formula && (
            <>
              <Formula tex={leftOf(one) + one.formula} />
              <Formula
                tex={(one.loop ? '' : `\\phantom{${symbolOf(one)}} = `) + one.numbers}
                fontSize="13px"
                color="ink.muted"
              />
            </>
          )}
          <ParameterRows one={one} shown={shown} />
        </Box>
      ))}
      <Grid templateColumns="auto 1fr" columnGap="4" fontSize="13px">
        <Text color="ink.muted">RMSE</Text>
        <Text
          fontFamily="mono"
          color="ink.muted"
          title={
            fit.isThroughZero
              ? 'R² counted about zero, since the model goes through zero'
              : 'R² = 1 − RSS/TSS, about the mean'
          }
        >
          {closeness(fit)}
        </Text>
        {fit.solution.reducedChiSquare !== null && (
          <>
            <Text
              color="ink.muted"
              title="Reduced chi-square, by the marks' own errors: about 1 where they and the model are right"
            >
              χ²/ν
            </Text>
            <Text fontFamily="mono" color="ink.muted">
              {significant(fit.solution.reducedChiSquare, 2)}, {fit.freedom} degrees of freedom
            </Text>
          </>
        )}
      </Grid>
      <ResidualStrip fit={fit} colour={colour.mark} />
      <Doubts shown={shown} />
      <ReadingBox shown={shown} fit={fit} />
      {!shown.xQuantity && (
        <Fold name="moment" label="Value and slope at a moment">
          <AtMoment fit={fit} />
        </Fold>
      )}
      <Fold name="correlations" label="Correlations and further points">
        <Correlations id={id} fit={fit} />
      </Fold>
      <HStack gap="3" marginTop="1" flexWrap="wrap">
        {menu}
        <CopyFit shown={shown} />
        {hasForms && (
          <Button
            size="2xs"
            variant="plain"
            paddingX="0"
            color="petrol"
            onClick={() =>
              session.edit('change the form of the fit', edits.changeFit(id, { form: other, fixed: {} }))
            }
          >
            {other === 'coefficients' ? 'Show plain coefficients' : 'Show the physics’ parameters'}
          </Button>
        )}
      </HStack>
      <Together shown={shown} graph={graph} />
      <HStack fontSize="13px" color="ink.muted" marginTop="1">
        <Text flex="none">Outliers</Text>
        <Select
          label="How outliers count"
          value={settings.robust}
          options={[
            ['none', 'count fully'],
            ['huber', 'count less'],
            ['bisquare', 'ignore'],
          ]}
          choose={(robust) => session.edit('change how outliers count', edits.changeFit(id, { robust }))}
        />
      </HStack>
    </Box>
  )
}

const symbolOf = ({ quantity }: ColumnFit) => symbolTex(quantity.symbol, quantity.subscript)
/** Returns what stands before the law: a closed curve is a relation by itself. */
const leftOf = (fit: ColumnFit) => (fit.loop ? '' : `${symbolOf(fit)} = `)

/** What a fit's parameters are, each with a lock that keeps it where it is. */
function ParameterRows({ one, shown }: { one: ColumnFit; shown: GraphFit }) {
  const session = useSession()
  const { id, settings } = shown
  return (
    <Grid templateColumns="auto 1fr auto" columnGap="4" fontSize="13px" alignItems="center">
      {one.parameters.map((parameter) => (
        <Box display="contents" key={parameter.key} role="group">
          <Box title={parameter.name}>
            <SymbolText symbol={parameter.symbol} subscript={parameter.subscript} />
          </Box>
          <Text fontFamily="mono">
            {parameter.isFixed
              ? withUnit(significant(parameter.value, 6), parameter.unit)
              : measurement(parameter.value, parameter.error, parameter.unit)}
          </Text>
          <IconButton
            size="2xs"
            variant="ghost"
            height="5"
            minWidth="5"
            color={parameter.isFixed ? 'petrol' : 'ink.muted'}
            aria-pressed={parameter.isFixed}
            aria-label={`Fix ${parameter.name}`}
            title={parameter.isFixed ? 'Fixed at this value: fit it again' : 'Fix it at this value'}
            onClick={() => {
              const { [parameter.key]: was, ...others } = settings.fixed
              const fixed = parameter.isFixed
                ? others
                : { ...settings.fixed, [parameter.key]: parameter.value * parameter.kept }
              session.edit(
                parameter.isFixed ? 'free a parameter' : 'fix a parameter',
                edits.changeFit(id, { fixed }),
              )
            }}
          >
            {parameter.isFixed ? <Lock size={12} /> : <LockOpen size={12} />}
          </IconButton>
          {parameter.isFixed && (
            <Box gridColumn="2 / 4">
              <HeldField shown={shown} parameter={parameter} />
            </Box>
          )}
        </Box>
      ))}
    </Grid>
  )
}

/** A fixed parameter's value, to be typed. */
function HeldField({
  shown: { id, settings },
  parameter: { key, name, value, kept, unit },
}: {
  shown: GraphFit
  parameter: FittedParameter
}) {
  const session = useSession()
  return (
    <TextField
      label={`${name} fixed at${unit && `, ${unit}`}`}
      hideLabel
      size="2xs"
      value={String(Number(value.toPrecision(8)))}
      inputMode="decimal"
      onCommit={(text) => {
        const typed = parseNumber(text)
        if (typed === null) return 'A number.'
        const fixed = { ...settings.fixed, [key]: typed * kept }
        session.edit('fix a parameter', edits.changeFit(id, { fixed }))
        return null
      }}
    />
  )
}
