import { edits } from '@apokinema/core/investigation'
import { angleMeasurement, degrees } from '@apokinema/core/units'
import { Button, HStack, Text } from '@chakra-ui/react'
import { useInvestigation, useSession } from '../../../../document/SessionContext.tsx'
import { enterMode } from '../../../calibrating.ts'
import { SetUpRow } from '../SetUpRow.tsx'

/** Direction of gravity in the picture, for heights whatever the axes. */
export function GravityRow() {
  const session = useSession()
  const { gravity } = useInvestigation()
  const off = gravity === null ? 0 : gravity.direction + Math.PI / 2
  const side = off > 0 ? 'right' : 'left'
  return (
    <SetUpRow
      state={gravity === null ? 'plain' : 'done'}
      label="Gravity"
      isBehindMore={gravity === null}
      value={gravity === null ? 'straight down' : `${degrees(Math.abs(off))} ${side}`}
    >
      <Text fontSize="small" color="ink.muted">
        Heights and potential energy follow this direction, not the tilted axes. With a tilted phone, draw
        along a door frame.
      </Text>
      {gravity !== null && gravity.error > 0 && (
        <Text fontSize="small" color="ink.muted" marginTop="1">
          By the line that was drawn: {angleMeasurement(Math.abs(off), gravity.error)} {side} of down
        </Text>
      )}
      <HStack gap="2" marginTop="2" flexWrap="wrap">
        <Button
          size="2xs"
          variant="outline"
          onClick={() => enterMode(session, { kind: 'axis-line', along: 'gravity', points: [] })}
        >
          Draw along a plumb line
        </Button>
        {gravity !== null && (
          <Button
            size="2xs"
            variant="outline"
            onClick={() => session.edit('set gravity straight down', edits.setGravity(null))}
          >
            Straight down
          </Button>
        )}
      </HStack>
    </SetUpRow>
  )
}
