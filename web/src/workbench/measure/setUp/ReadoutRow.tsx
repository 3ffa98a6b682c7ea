import { readoutEffect } from '@apokinema/core/analysis'
import { edits } from '@apokinema/core/investigation'
import { READOUT_DIRECTIONS, type Readout, type ReadoutDirection } from '@apokinema/core/time'
import { fixed, withUnit } from '@apokinema/core/units'
import { Button, Field, Grid, HStack, NativeSelect, Stack, Text } from '@chakra-ui/react'
import { useMemo } from 'react'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { readoutDirection } from '../../calibrating.ts'
import { activeBody } from '../../shown.ts'
import { useWorkbench, workbench } from '../../workbenchStore.ts'
import { SetUpRow } from './SetUpRow.tsx'

/** Read-out time for which the effect is shown while none is stated: typical for phones. */
const USUAL_SECONDS = 0.016

const NAMES: Record<ReadoutDirection, string> = {
  down: 'top to bottom',
  up: 'bottom to top',
  left: 'right to left',
  right: 'left to right',
}

/** The rolling shutter: its read-out time, and its effect on this motion. */
export function ReadoutRow() {
  const session = useSession()
  const investigation = useInvestigation()
  const { readout } = investigation.timing
  const towards = readout?.towards ?? readoutDirection(investigation)
  const state = (changed: Readout | null) => session.edit('state the read-out', edits.setReadout(changed))
  return (
    <SetUpRow
      state={readout ? 'done' : 'plain'}
      label="Rolling shutter"
      isBehindMore={readout === null}
      place="read-out"
      value={readout ? withUnit(fixed(1000 * readout.seconds, 1), 'ms') : 'not corrected'}
    >
      <Stack gap="2">
        <Text fontSize="small" color="ink.muted">
          Most sensors read row after row, so a low mark is later than a high one in the same frame.
        </Text>
        <Grid templateColumns="1fr 1.3fr" gap="2" alignItems="end">
          <TextField
            label="Read-out, ms"
            placeholder="off"
            value={readout ? String(Number((1000 * readout.seconds).toPrecision(6))) : ''}
            inputMode="decimal"
            onCommit={(text) => {
              if (text === '') {
                state(null)
                return null
              }
              const value = parseNumber(text)
              if (value === null || value < 0 || value > 200) return '0 to 200, or empty.'
              state(value === 0 ? null : { seconds: value / 1000, towards })
              return null
            }}
          />
          <Field.Root gap="1">
            <Field.Label fontSize="small" color="ink.muted" fontWeight="400">
              Reads from
            </Field.Label>
            <NativeSelect.Root size="xs" disabled={!readout}>
              <NativeSelect.Field
                value={towards}
                onChange={(event) =>
                  readout && state({ ...readout, towards: event.target.value as ReadoutDirection })
                }
              >
                {READOUT_DIRECTIONS.map((direction) => (
                  <option key={direction} value={direction}>
                    {NAMES[direction]}
                  </option>
                ))}
              </NativeSelect.Field>
              <NativeSelect.Indicator />
            </NativeSelect.Root>
          </Field.Root>
        </Grid>
        <Effect readout={readout ?? { seconds: USUAL_SECONDS, towards }} stated={readout !== null} />
        <HStack>
          <Button size="2xs" variant="outline" onClick={() => workbench.enter({ kind: 'edge', points: [] })}>
            Find it from a leaning edge
          </Button>
        </HStack>
      </Stack>
    </SetUpRow>
  )
}

/** The effect of the read-out on the acceleration of the active body. */
function Effect({ readout, stated }: { readout: Readout; stated: boolean }) {
  const investigation = useInvestigation()
  const chosen = useWorkbench((state) => state.body)
  const body = activeBody(investigation, chosen)
  const { seconds, towards } = readout
  const share = useMemo(
    () => (body ? readoutEffect(investigation, body, { seconds, towards }) : null),
    [investigation, body, seconds, towards],
  )
  if (!body || share === null)
    return (
      <Text fontSize="small" color="ink.muted">
        Once there are marks, what it does to this motion is said here.
      </Text>
    )
  const percent = withUnit(fixed(Math.abs(100 * share), 1), '%')
  const way = share > 0 ? 'high' : 'low'
  return (
    <Text fontSize="small">
      {stated
        ? `Without this correction the acceleration of ${investigation.bodies[body].name} would read ${percent} too ${way}.`
        : `With a typical ${fixed(1000 * seconds, 0)} ms the acceleration of ${investigation.bodies[body].name} reads ${percent} too ${way}.`}
    </Text>
  )
}
