import { referenceAngle, relativeScaleError, scaleOf } from '@apokinema/core/geometry'
import { edits, inOrder, type Reference } from '@apokinema/core/investigation'
import { degrees, fixed, parseLength, withUnit } from '@apokinema/core/units'
import { Box, Button, Grid, HStack, Stack, Text } from '@chakra-ui/react'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { workbench } from '../../workbenchStore.ts'
import { Facts } from './Facts.tsx'
import { SetUpRow } from './SetUpRow.tsx'

/** The reference length, or how to set one. */
export function ReferenceRow() {
  const { references } = useInvestigation()
  const [first] = inOrder(references)
  if (first) return <ReferenceEditor id={first[0]} reference={first[1]} />
  return (
    <Box paddingX="4">
      <Text fontSize="13px" color="ink.muted" marginBottom="2">
        Everything is in pixels until something of known length is shown: as far from the camera as the motion
        is.
      </Text>
      <Button
        size="xs"
        variant="outline"
        onClick={() => workbench.enter({ kind: 'reference', id: null, first: null })}
      >
        Set a reference length
      </Button>
    </Box>
  )
}

function ReferenceEditor({ id, reference }: { id: string; reference: Reference }) {
  const session = useSession()
  const scale = scaleOf(reference)
  const { angle, error } = referenceAngle(reference)
  const change = (label: string, what: Partial<Omit<Reference, 'order'>>) =>
    session.edit(label, edits.changeReference(id, what))
  const percent = scale ? ` ±${fixed(100 * relativeScaleError(scale), 1)} %` : ''
  const written = reference.length === null ? '' : writtenLength(reference.length, reference.lengthError)
  return (
    <SetUpRow
      key={id}
      state={scale ? 'done' : 'open'}
      label={reference.name[0].toUpperCase() + reference.name.slice(1)}
      value={
        reference.length === null ? 'how long?' : `${withUnit(fixed(reference.length, 3), 'm')}${percent}`
      }
      defaultOpen={reference.length === null}
    >
      <Stack gap="2">
        <TextField
          label="How long is it really?"
          placeholder="1.40 m or 140 cm ± 0.5"
          value={written}
          autoFocus={reference.length === null}
          onCommit={(text) => {
            const length = parseLength(text)
            if (!length) return 'A length above 0 such as 1.40 m, 85 cm or 1.400 ± 0.005 m.'
            change('tell the reference length', { length: length.metres, lengthError: length.error })
            return null
          }}
        />
        <Grid templateColumns="1fr 1fr" gap="2">
          <TextField
            label="Name"
            value={reference.name}
            fontFamily="body"
            maxLength={120}
            onCommit={(text) => {
              if (!text) return 'A name, please.'
              change('rename the reference length', { name: text })
              return null
            }}
          />
          <TextField
            label="Ends placed to ± px"
            value={String(reference.placingError)}
            inputMode="decimal"
            onCommit={(text) => {
              const value = parseNumber(text)
              if (value === null || value < 0 || value > 1000) return 'From 0 to 1000.'
              change('state the placing error', { placingError: value })
              return null
            }}
          />
        </Grid>
        <Facts
          rows={[
            [
              'on the picture',
              withUnit(
                fixed(
                  Math.hypot(
                    reference.ends[1].x - reference.ends[0].x,
                    reference.ends[1].y - reference.ends[0].y,
                  ),
                  1,
                ),
                'px',
              ),
            ],
            ['its angle', `${degrees(angle, 2)} ± ${degrees(error, 2)}`],
            ...(scale
              ? ([['scale', withUnit(fixed(1 / scale.metresPerPixel, 2), 'px/m')]] as [string, string][])
              : []),
          ]}
        />
        <HStack gap="2">
          <Button
            size="2xs"
            variant="outline"
            onClick={() => workbench.enter({ kind: 'reference', id, first: null })}
          >
            Place again
          </Button>
          <Button
            size="2xs"
            variant="outline"
            onClick={() => session.edit('delete the reference length', edits.removeReference(id))}
          >
            Delete
          </Button>
        </HStack>
      </Stack>
    </SetUpRow>
  )
}

/** A length as it could have been typed. */
function writtenLength(metres: number, error: number): string {
  const plain = (value: number) => String(Number(value.toPrecision(8)))
  return error > 0 ? `${plain(metres)} ± ${plain(error)} m` : `${plain(metres)} m`
}
