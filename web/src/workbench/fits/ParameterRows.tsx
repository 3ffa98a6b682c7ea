import type { GraphFit } from '@apokinema/core/analysis'
import type { ColumnFit, FittedParameter } from '@apokinema/core/fitting'
import { edits } from '@apokinema/core/investigation'
import { measurement, significant, withUnit } from '@apokinema/core/units'
import { Box, Grid, IconButton, Text } from '@chakra-ui/react'
import { Lock, LockOpen } from 'lucide-react'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useSession } from '../../document/SessionContext.tsx'
import { SymbolText } from '../SymbolText.tsx'

/** The parameters of a fit with their errors, each with a lock that fixes it at a value. */
export function ParameterRows({ one, shown }: { one: ColumnFit; shown: GraphFit }) {
  const session = useSession()
  const { id, settings } = shown
  return (
    <Grid templateColumns="auto 1fr auto" columnGap="4" fontSize="small" alignItems="center">
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
              <FixedField shown={shown} parameter={parameter} />
            </Box>
          )}
        </Box>
      ))}
    </Grid>
  )
}

/** Field for the value of a fixed parameter. */
function FixedField({
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
