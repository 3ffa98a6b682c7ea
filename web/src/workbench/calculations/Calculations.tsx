import { analyse } from '@apokinema/core/analysis'
import { edits } from '@apokinema/core/investigation'
import { calculationBlock } from '@apokinema/words/report/choices'
import { Box } from '@chakra-ui/react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { ReportButton } from '../ReportButton.tsx'
import { CalculationSheet } from './CalculationSheet.tsx'

/** Results computed from readings; nothing before there is a fit. */
export function Calculations() {
  const session = useSession()
  const investigation = useInvestigation()
  const analysis = analyse(investigation)
  if (analysis.allFits().length === 0) return null
  return (
    <Box as="section" paddingX="4" paddingY="3" data-calculations>
      <CalculationSheet
        sheet={{
          calculations: investigation.calculations,
          known: analysis.knownValues(),
          shown: analysis.calculations(),
          investigation,
          keep: (id, calculation) =>
            session.edit(
              `calculate ${calculation.name || calculation.symbol}`,
              edits.setCalculation(id, calculation),
            ),
          remove: (id, name) => session.edit(`remove ${name}`, edits.removeCalculation(id)),
          actions: (id, name) => <ReportButton what={name} content={calculationBlock(id)} />,
        }}
        about="Results that follow from readings: a friction coefficient, momentum before and after, the mean of several readings."
        example="a_1/g, mean(a_1, a_2), weighted(a_1, a_2)"
      />
    </Box>
  )
}
