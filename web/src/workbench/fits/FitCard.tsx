import type { GraphFit } from '@apokinema/core/analysis'
import { type ColumnFit, symbolTex } from '@apokinema/core/fitting'
import { edits, type FitForm, type Graph, type RobustId } from '@apokinema/core/investigation'
import { significant } from '@apokinema/core/units'
import { closeness } from '@apokinema/words/fitText'
import { problemText } from '@apokinema/words/problems'
import { fitBlock } from '@apokinema/words/report/choices'
import { Box, Button, CloseButton, Flex, Grid, HStack, Text } from '@chakra-ui/react'
import { Fold } from '../../common/Fold.tsx'
import { Select } from '../../common/Select.tsx'
import { TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { ReportButton } from '../ReportButton.tsx'
import { AtMoment } from './AtMoment.tsx'
import { CopyFit } from './CopyFit.tsx'
import { Correlations } from './Correlations.tsx'
import { Doubts } from './Doubts.tsx'
import { FitMenu } from './FitMenu.tsx'
import { Formula } from './Formula.tsx'
import { FreeFormFields } from './FreeFormFields.tsx'
import { ParameterRows } from './ParameterRows.tsx'
import { ReadingBox } from './ReadingBox.tsx'
import { ResidualStrip } from './ResidualStrip.tsx'
import { Together } from './Together.tsx'
import { remodelled, useSuggesting } from './useFitting.ts'

/** A fit: formula, parameters, closeness, doubts and readings. */
export function FitCard({ shown, graph }: { shown: GraphFit; graph: Graph }) {
  const session = useSession()
  const investigation = useInvestigation()
  const { id, settings, fit, error } = shown
  const colour = BODY_PAINT[investigation.bodies[graph.body].colour]
  const xQuantity = shown.xQuantity ? shown.columns[0].table.column(shown.xQuantity).info : null
  const head = <FitHead shown={shown} />
  const menu = (
    <FitMenu
      label="Model…"
      look="plain"
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
  return (
    <Box marginTop="2" data-fit={settings.model}>
      {head}
      {settings.model === 'free-form' && <FreeFormFields id={id} settings={settings} xQuantity={xQuantity} />}
      <Laws shown={shown} />
      <Closeness fit={fit} />
      <ResidualStrip fit={fit} colour={colour} />
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
        <ReportButton what="this fit" content={fitBlock(id)} />
        <FormButton id={id} form={settings.form} fit={fit} />
      </HStack>
      <Together shown={shown} graph={graph} />
      <OutlierChoice id={id} robust={settings.robust} />
    </Box>
  )
}

const symbolOf = ({ quantity }: ColumnFit) => symbolTex(quantity.symbol, quantity.subscript)
/** Returns the left side of the law: a closed curve has none. */
const leftOf = (fit: ColumnFit) => (fit.loop ? '' : `${symbolOf(fit)} = `)

/** The name of a fit and its number of points. */
function FitHead({ shown: { id, settings, fit } }: { shown: GraphFit }) {
  const session = useSession()
  return (
    <Flex align="center" gap="1">
      <Box flex="1" minWidth="0">
        <TextField
          label="Name of this fit"
          hideLabel
          variant="flushed"
          fontFamily="body"
          fontSize="text"
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
        <Text fontSize="small" color="ink.muted" flex="none" data-points={fit.points}>
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
}

/** The law of each fitted column with its parameters. */
function Laws({ shown }: { shown: GraphFit }) {
  const { bodies } = useInvestigation()
  const isOfSeveral = new Set(shown.columns.map(({ table }) => table.body)).size > 1
  return shown.all.map((one) => (
    <Box key={`${one.member} ${one.quantity.id}`} marginTop="1">
      {isOfSeveral && <Text fontSize="small">{bodies[shown.columns[one.member].table.body]?.name}</Text>}
      {one.formula && (
        <>
          <Formula tex={leftOf(one) + one.formula} />
          <Formula
            tex={(one.loop ? '' : `\\phantom{${symbolOf(one)}} = `) + one.numbers}
            fontSize="small"
            color="ink.muted"
          />
        </>
      )}
      <ParameterRows one={one} shown={shown} />
    </Box>
  ))
}

/** RMSE, R² and the reduced chi-square of a fit. */
function Closeness({ fit }: { fit: ColumnFit }) {
  return (
    <Grid templateColumns="auto 1fr" columnGap="4" fontSize="small">
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
  )
}

/** Switches between the parameters of physics and plain coefficients, if a law has both. */
function FormButton({ id, form, fit }: { id: string; form: FitForm; fit: ColumnFit }) {
  const session = useSession()
  const other = form === 'physics' ? 'coefficients' : 'physics'
  const { order, law, parameters } = fit
  if (order === null || law.parameters.length < 2 || law.linear.length !== parameters.length) return null
  return (
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
  )
}

function OutlierChoice({ id, robust }: { id: string; robust: RobustId }) {
  const session = useSession()
  return (
    <HStack fontSize="small" color="ink.muted" marginTop="1">
      <Text flex="none">Outliers</Text>
      <Select
        label="How outliers count"
        value={robust}
        options={[
          ['none', 'count fully'],
          ['huber', 'count less'],
          ['bisquare', 'ignore'],
        ]}
        choose={(one) => session.edit('change how outliers count', edits.changeFit(id, { robust: one }))}
      />
    </HStack>
  )
}
