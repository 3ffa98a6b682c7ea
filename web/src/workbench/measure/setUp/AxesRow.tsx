import { edits } from '@apokinema/core/investigation'
import { degrees } from '@apokinema/core/units'
import { Box, Button, Grid, HStack, Text } from '@chakra-ui/react'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { workbench } from '../../workbenchStore.ts'
import { SetUpRow } from './SetUpRow.tsx'

/** Where zero is and which way x points. */
export function AxesRow() {
  const session = useSession()
  const { axes } = useInvestigation()
  const originField = (key: 'x' | 'y') => (
    <TextField
      label={`Origin ${key}, px`}
      value={String(Number(axes.origin[key].toFixed(2)))}
      inputMode="decimal"
      onCommit={(text) => {
        const value = parseNumber(text)
        if (value === null || Math.abs(value) > 1e6) return 'A number of pixels.'
        session.edit('move the origin', edits.setAxes({ origin: { ...axes.origin, [key]: value } }))
        return null
      }}
    />
  )
  const row = (
    <SetUpRow
      state={axes.placed ? 'done' : 'open'}
      label="Axes"
      value={axes.placed ? `tilt ${degrees(axes.tilt)}` : 'not placed yet'}
    >
      <HStack gap="2" flexWrap="wrap">
        <Button size="2xs" variant="outline" onClick={() => workbench.enter({ kind: 'origin' })}>
          Place the origin
        </Button>
        <Button
          size="2xs"
          variant="outline"
          onClick={() => workbench.enter({ kind: 'axis-line', first: null })}
        >
          Lay x along a line
        </Button>
      </HStack>
      <Grid templateColumns="1fr 1fr 1fr" gap="2" marginTop="2">
        {originField('x')}
        {originField('y')}
        <TextField
          label="Tilt, °"
          value={String(Number(((axes.tilt * 180) / Math.PI).toFixed(3)))}
          inputMode="decimal"
          onCommit={(text) => {
            const value = parseNumber(text.replace('°', ''))
            if (value === null || Math.abs(value) > 360) return 'Degrees from −360 to 360.'
            session.edit('tilt the axes', edits.setAxes({ tilt: (value * Math.PI) / 180 }))
            return null
          }}
        />
      </Grid>
      <Text fontSize="13px" color="ink.muted" marginTop="2">
        The tilt turns anticlockwise on the picture. The arrows can be dragged on it, too.
      </Text>
    </SetUpRow>
  )
  if (axes.placed) return row
  return (
    <>
      {row}
      <Box paddingX="4" paddingTop="1">
        <Button size="xs" variant="outline" onClick={() => workbench.enter({ kind: 'origin' })}>
          Place the origin
        </Button>
      </Box>
    </>
  )
}
