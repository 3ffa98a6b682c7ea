import { edits } from '@apokinema/core/investigation'
import { frameCount } from '@apokinema/core/time'
import { Box, Button, HStack } from '@chakra-ui/react'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { useWorkbench } from '../../workbenchStore.ts'
import { SetUpRow } from './SetUpRow.tsx'

/** Which frame counts as time zero. */
export function ZeroRow() {
  const session = useSession()
  const { timing, span, footage } = useInvestigation()
  const { zero } = timing
  const last = frameCount(footage!.ticks) - 1
  const set = (frame: number | null) =>
    session.edit('choose time zero', edits.setTiming({ zero: frame === span.first ? null : frame }))
  return (
    <SetUpRow
      state={zero === null ? 'plain' : 'done'}
      label="Time zero"
      isBehindMore={zero === null}
      value={zero === null ? 'first frame' : `frame ${zero}`}
    >
      <HStack gap="2" align="end" flexWrap="wrap">
        <Box width="4.5rem">
          <TextField
            label="Frame"
            value={String(zero ?? span.first)}
            inputMode="numeric"
            onCommit={(text) => {
              const frame = parseNumber(text)
              if (frame === null || !Number.isInteger(frame) || frame < 0 || frame > last)
                return `0 to ${last}.`
              set(frame)
              return null
            }}
          />
        </Box>
        <Button size="xs" variant="outline" onClick={() => set(useWorkbench.getState().frame)}>
          This frame
        </Button>
        <Button size="xs" variant="outline" disabled={zero === null} onClick={() => set(null)}>
          Span’s first
        </Button>
      </HStack>
    </SetUpRow>
  )
}
