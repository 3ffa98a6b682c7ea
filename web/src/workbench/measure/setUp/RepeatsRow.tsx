import { edits } from '@apokinema/core/investigation'
import type { RepeatUse } from '@apokinema/core/time'
import { fixed, significant, withUnit } from '@apokinema/core/units'
import { Button, HStack, Stack, Text } from '@chakra-ui/react'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { ProposalBox } from '../../proposals/ProposalBox.tsx'
import { useSurveyed, useSurveyStore } from '../../survey/useSurvey.ts'
import { SetUpRow } from './SetUpRow.tsx'

const USES: Record<RepeatUse, string> = {
  'original-rate': 'put back to their original rate',
  'leave-out': 'left out',
  keep: 'shown, and used',
}

/** Frames that repeat the picture of the previous one: found in the pictures, decided by a person. */
export function RepeatsRow() {
  const session = useSession()
  const { timing } = useInvestigation()
  const surveyed = useSurveyed()
  const found = surveyed?.repeats
  const decided = timing.repeats
  const chosen = useSurveyStore((state) => state.threshold)
  if (!decided && (!found || (found.frames.length === 0 && chosen === null))) return null
  const frames = found?.frames ?? decided?.frames ?? []
  const rate = found?.originalRate ?? decided?.originalRate ?? null
  const decide = (use: RepeatUse) =>
    session.edit(
      'decide about repeated frames',
      edits.setRepeats({ frames, use, originalRate: use === 'original-rate' ? rate : null }),
    )
  const choices = [
    ...(rate === null
      ? []
      : [{ label: `Use ${significant(rate, 4)} /s`, act: () => decide('original-rate') }]),
    { label: 'Leave them out', act: () => decide('leave-out') },
  ]
  const told = `${frames.length === 1 ? 'One frame shows' : `${frames.length} frames show`} the picture before once more${
    rate ? `, regularly: recorded at ${withUnit(significant(rate, 4), '/s')} and saved at another rate.` : '.'
  }`
  const count = (decided?.frames ?? frames).length
  const row = (
    <SetUpRow
      state={decided ? 'done' : 'note'}
      label="Repeated frames"
      value={decided ? `${count}, ${decided.use === 'keep' ? 'used' : 'not used'}` : `${count} found`}
    >
      <Stack gap="2" fontSize="small">
        {decided && <Text>{told}</Text>}
        <Text color="ink.muted">They stand as brown ticks on the strip’s ruler.</Text>
        {decided && <Text color="ink.muted">They are {USES[decided.use]}.</Text>}
        {decided && (
          <HStack gap="2" flexWrap="wrap">
            {choices.map(({ label, act }) => (
              <Button key={label} size="2xs" variant="outline" onClick={act}>
                {label}
              </Button>
            ))}
            <Button size="2xs" variant="outline" onClick={() => decide('keep')}>
              Use them
            </Button>
            <Button
              size="2xs"
              variant="outline"
              onClick={() => session.edit('forget repeated frames', edits.setRepeats(null))}
            >
              Forget
            </Button>
          </HStack>
        )}
        {found && (
          <TextField
            label="Pictures count as one up to a change of"
            value={fixed(found.threshold, 2)}
            inputMode="decimal"
            onCommit={(text) => {
              const threshold = text === '' ? null : parseNumber(text)
              if (text !== '' && (threshold === null || threshold < 0 || threshold > 255))
                return '0 to 255 of brightness; empty: proposed.'
              useSurveyStore.setState({ threshold })
              return null
            }}
          />
        )}
      </Stack>
    </SetUpRow>
  )
  if (decided) return row
  return (
    <>
      {row}
      <ProposalBox choices={choices} refuse={{ says: 'No, use them', act: () => decide('keep') }}>
        {told}
      </ProposalBox>
    </>
  )
}
