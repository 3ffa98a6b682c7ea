import { variableOf } from '@apokinema/core/fitting'
import { edits, type Fit, MOST_FREE_FORM } from '@apokinema/core/investigation'
import type { QuantityInfo } from '@apokinema/core/motion'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { useSession } from '../../document/SessionContext.tsx'
import { readForm } from './readForm.ts'
import { useByEye } from './useFitting.ts'

/** The expression of a free form, and start values of its parameters. */
export function FreeFormFields({
  id,
  settings,
  xQuantity,
}: {
  id: string
  settings: Fit
  /** Quantity of the x axis; null for time. Only a curve over time can be laid by eye. */
  xQuantity: QuantityInfo | null
}) {
  const session = useSession()
  const { expression, start } = settings
  const variable = xQuantity ? variableOf(xQuantity) : 't'
  const parameters = readForm(expression, variable).form?.parameters ?? []
  const isByEye = useByEye((state) => state.fit === id)
  return (
    <Box marginY="1">
      <TextField
        label={`Value, by ${variable}`}
        value={expression}
        maxLength={MOST_FREE_FORM}
        placeholder={xQuantity ? `c + a*${variable}^2` : 'c + a*exp(-t/tau)'}
        onCommit={(text) => {
          const { error } = readForm(text, variable)
          if (error) return error
          session.edit('change the expression', edits.changeFit(id, { expression: text, fixed: {} }))
          return null
        }}
      />
      {parameters.length > 0 && (
        <>
          <Flex align="center" gap="2" marginTop="1">
            <Text fontSize="small" color="ink.muted" flex="1">
              Begin near, if it does not find them by itself:
            </Text>
            {!xQuantity && (
              <Button
                size="2xs"
                variant={isByEye ? 'solid' : 'outline'}
                colorPalette={isByEye ? 'brand' : 'gray'}
                aria-pressed={isByEye}
                title="Drag handles on the graph until the dashed curve lies near the points"
                onClick={() => useByEye.setState({ fit: isByEye ? null : id })}
              >
                {isByEye ? 'Done' : 'Lay it by eye'}
              </Button>
            )}
          </Flex>
          <Flex gap="2" flexWrap="wrap">
            {parameters.map((name) => (
              <Box key={name} width="4.6rem">
                <TextField
                  label={name}
                  placeholder="any"
                  value={Object.hasOwn(start, name) ? String(Number(start[name].toPrecision(4))) : ''}
                  inputMode="decimal"
                  onCommit={(text) => {
                    const { [name]: was, ...others } = start
                    const value = text === '' ? null : parseNumber(text)
                    if (text !== '' && value === null) return 'A number.'
                    session.edit(
                      'say where to begin',
                      edits.changeFit(id, { start: value === null ? others : { ...others, [name]: value } }),
                    )
                    return null
                  }}
                />
              </Box>
            ))}
          </Flex>
        </>
      )}
    </Box>
  )
}
