import { analyse } from '@apokinema/core/analysis'
import { edits } from '@apokinema/core/investigation'
import { planeReport } from '@apokinema/core/scene'
import { fixed, parseLength } from '@apokinema/core/units'
import { Button, Grid, HStack, Stack, Text } from '@chakra-ui/react'
import { TextField } from '../../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../../document/SessionContext.tsx'
import { enterMode, isLocked } from '../../../calibrating.ts'
import { gridField, lengthText, sizeText, writtenLength } from '../../../lengths.ts'
import { SetUpRow } from '../SetUpRow.tsx'

/** The plane of motion, if the camera looks at it at an angle: four corners of a rectangle. */
export function PlaneRow() {
  const session = useSession()
  const investigation = useInvestigation()
  const { plane, lengthUnit } = investigation
  const report = planeReport(investigation, analyse(investigation).scene())
  const place = () => enterMode(session, { kind: 'plane', points: [] })
  if (!plane)
    return (
      <SetUpRow state="plain" label="Camera angle" value="straight on" isBehindMore>
        <Text fontSize="small" color="ink.muted">
          If the camera looks at the plane of motion from the side, lengths change across the picture. Place
          the four corners of a rectangle in that plane to correct this.
        </Text>
        <Button size="2xs" variant="outline" marginTop="2" onClick={place}>
          Place four corners
        </Button>
      </SetUpRow>
    )
  const isSized = plane.width !== null && plane.height !== null
  const side = (label: string, key: 'width' | 'height') => {
    const metres = plane[key]
    return (
      <TextField
        label={label}
        placeholder="2.00 m"
        value={metres === null ? '' : writtenLength(metres, plane.sizeError * metres, lengthUnit)}
        autoFocus={key === 'width' && metres === null}
        onCommit={(text) => {
          const length = parseLength(text, lengthUnit)
          if (!length) return 'A length above 0 such as 2.00 m.'
          if (isLocked(session, 'scale')) return null
          const sizeError = Math.max(plane.sizeError, length.error / length.metres)
          session.edit(`tell the plane’s ${key}`, edits.changePlane({ [key]: length.metres, sizeError }))
          return null
        }}
      />
    )
  }
  return (
    <SetUpRow
      state={isSized ? 'done' : 'open'}
      label="Camera angle"
      value={isSized ? sizeText(plane.width!, plane.height!, lengthUnit) : 'how large?'}
      defaultOpen={!isSized}
    >
      <Stack gap="2">
        <Grid templateColumns="1fr 1fr" gap="2">
          {side('Lower side', 'width')}
          {side('Other side', 'height')}
        </Grid>
        {report && (
          <Text fontSize="small">
            The grid lies in the plane: its fields are squares of{' '}
            {lengthText(gridField(plane.width!, plane.height!, lengthUnit), lengthUnit)} there. A pixel is{' '}
            {fixed(1000 * report.least, 2)} to {fixed(1000 * report.most, 2)} mm wide; with one scale for all
            of it lengths would be up to {fixed(100 * report.change, 1)} % off. Reference lengths are for
            checking now. Bodies are marked where they touch the plane: what stands above it looks farther
            away.
          </Text>
        )}
        <HStack gap="2">
          <Button size="2xs" variant="outline" onClick={place}>
            Place again
          </Button>
          <Button
            size="2xs"
            variant="outline"
            onClick={() => {
              if (!isLocked(session, 'scale')) session.edit('forget the plane', edits.removePlane())
            }}
          >
            Straight on after all
          </Button>
        </HStack>
      </Stack>
    </SetUpRow>
  )
}
