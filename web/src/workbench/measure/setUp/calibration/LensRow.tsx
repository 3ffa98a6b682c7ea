import { LENS_LIMITS } from '@apokinema/core/geometry'
import { edits } from '@apokinema/core/investigation'
import { lensFitOf, lensOf } from '@apokinema/core/scene'
import { fixed, measurement } from '@apokinema/core/units'
import { Button, HStack, Stack, Text } from '@chakra-ui/react'
import { parseNumber, TextField } from '../../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../../document/SessionContext.tsx'
import { enterMode, isLocked } from '../../../calibrating.ts'
import { SetUpRow } from '../SetUpRow.tsx'

/** Lens distortion: its coefficient, from edges that are straight in reality, or typed. */
export function LensRow() {
  const session = useSession()
  const investigation = useInvestigation()
  const { lens } = investigation
  const found = lensFitOf(investigation)
  const k1 = lensOf(investigation)
  const edges = Object.keys(lens?.edges ?? {}).length
  const change = (label: string, mutator: ReturnType<typeof edits.removeLens>) => {
    if (!isLocked(session, 'scale')) session.edit(label, mutator)
  }
  return (
    <SetUpRow
      state={lens ? (k1 === null ? 'note' : 'done') : 'plain'}
      label="Lens distortion"
      isBehindMore={lens === null}
      value={lens ? (k1 === null ? 'not determined' : `k₁ ${fixed(k1, 3)}`) : 'not corrected'}
    >
      <Stack gap="2">
        <Text fontSize="small" color="ink.muted">
          Wide-angle lenses bend straight edges near the border of the picture. Mark points along such an edge
          to correct the whole picture.
        </Text>
        {found && (
          <Text fontSize="small">
            From {edges === 1 ? 'one edge' : `${edges} edges`}: k₁ = {measurement(found.k1, found.error, '')}.
            The edges bend by {fixed(found.before, 1)} px, and by {fixed(found.after, 1)} px after the
            correction.
          </Text>
        )}
        {edges > 0 && !found && (
          <Text fontSize="small" color="alarm">
            These points do not determine the distortion. Choose an edge farther from the middle, with five
            points along it.
          </Text>
        )}
        <TextField
          label="k₁, if known"
          placeholder={found ? fixed(found.k1, 4) : 'from the edges'}
          value={lens?.k1 === null || lens?.k1 === undefined ? '' : String(lens.k1)}
          inputMode="decimal"
          onCommit={(text) => {
            const value = text === '' ? null : parseNumber(text)
            if (text !== '' && (value === null || value < LENS_LIMITS.least || value > LENS_LIMITS.most))
              return `${fixed(LENS_LIMITS.least, 1)} to ${fixed(LENS_LIMITS.most, 1)}, or empty.`
            change('state the lens distortion', edits.setLensCoefficient(value))
            return null
          }}
        />
        <HStack gap="2">
          <Button
            size="2xs"
            variant="outline"
            onClick={() => enterMode(session, { kind: 'lens', points: [] })}
          >
            {edges === 0 ? 'Mark a straight edge' : 'Another edge'}
          </Button>
          {lens && (
            <Button
              size="2xs"
              variant="outline"
              onClick={() => change('take the lens for good', edits.removeLens())}
            >
              Forget
            </Button>
          )}
        </HStack>
      </Stack>
    </SetUpRow>
  )
}
