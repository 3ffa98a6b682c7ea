import { analyse } from '@apokinema/core/analysis'
import { expectedByExpression } from '@apokinema/core/fitting'
import type { Against, Investigation } from '@apokinema/core/investigation'
import { ExpressionError } from '@apokinema/core/motion'
import { unitFactor } from '@apokinema/core/units'
import { expectedText } from '@apokinema/words/comparisons'
import { problemText } from '@apokinema/words/problems'
import { parseMeasured, TextField } from '../../common/TextField.tsx'

/**
 * Field for the expected value: a number, a number ± its error, or an expression.
 *
 * @param investigation has the numbers that stand in expressions
 */
export function ExpectedField({
  investigation,
  unit,
  against,
  set,
}: {
  investigation: Investigation
  unit: string
  against: Against | null
  set: (against: Against | null) => void
}) {
  const factor = unitFactor(unit)
  return (
    <TextField
      label={`Expected${unit && `, ${unit}`}`}
      value={expectedText(against, factor)}
      placeholder={against ? 'another reading' : 'none'}
      title="A number, a number ± its error, or an expression such as sqrt(g/L)"
      onCommit={(text) => {
        if (text === '') {
          set(null)
          return null
        }
        const measured = parseMeasured(text)
        if (measured) {
          const { value, error } = measured
          set({ kind: 'value', value: value * factor, error: error * factor, label: '' })
          return null
        }
        try {
          expectedByExpression(investigation, analyse(investigation).numbers(), text, unit)
        } catch (error) {
          if (error instanceof ExpressionError) return problemText(error)
          throw error
        }
        set({ kind: 'expression', expression: text })
        return null
      }}
    />
  )
}
