import { BODY_COLOURS, BODY_SHAPES, type Body, edits } from '@apokinema/core/investigation'
import { markErrors } from '@apokinema/core/motion'
import { fixed, parseMass, shownMass } from '@apokinema/core/units'
import { Box, Button, Flex, IconButton, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { parseNumber, TextField } from '../../../common/TextField.tsx'
import { useSession } from '../../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../../theme/palettes.ts'
import { Marker } from '../../Marker.tsx'

const showAll = (node: HTMLElement | null) => node?.scrollIntoView({ block: 'nearest' })

/** Colour, marker, mass of a body, and the error of its marks. */
export function BodyDetails({ id, body, close }: { id: string; body: Body; close: () => void }) {
  const session = useSession()
  const errors = markErrors(body)
  const change = (label: string, what: Parameters<typeof edits.changeBody>[1]) =>
    session.edit(label, edits.changeBody(id, what))
  return (
    <Box
      ref={showAll}
      paddingX="2"
      paddingBottom="2"
      // Above the buttons that stay in view at the bottom.
      scrollMarginBottom="60px"
    >
      <LookButtons body={body} change={change} />
      <Flex gap="2" align="end">
        <Box flex="1">
          <TextField
            label="Mass ± error, in kg or g"
            value={body.mass ? shownMass(body.mass) : ''}
            placeholder="unknown"
            onCommit={(text) => {
              const mass = parseMass(text)
              if (mass === undefined) return 'Such as 0.250 kg or 250 ± 2 g.'
              change('state the mass', { mass })
              return null
            }}
          />
        </Box>
        <Box flex="1">
          <TextField
            label="Error of a mark, px"
            value={body.markError === null ? '' : String(body.markError)}
            placeholder={`${fixed(errors.base, 2)} by the marks`}
            onCommit={(text) => {
              const markError = text === '' ? null : parseNumber(text)
              if (text !== '' && !(markError && markError > 0 && markError <= 1000))
                return 'Pixels, above 0. Empty: as the marks tell.'
              change('state the error of a mark', { markError })
              return null
            }}
          />
        </Box>
      </Flex>
      {errors.growth > 0 && (
        <Text fontSize="small" color="ink.muted" marginTop="1">
          By the marks’ scatter it grows by {fixed(100 * errors.growth, 0)} % of the way from frame to frame.
        </Text>
      )}
      <Button size="2xs" variant="ghost" onClick={close} marginTop="1">
        Done
      </Button>
    </Box>
  )
}

/** Colours and markers of a body. */
function LookButtons({
  body,
  change,
}: {
  body: Body
  change(label: string, what: Parameters<typeof edits.changeBody>[1]): void
}) {
  return (
    <>
      <Swatches
        label="Colour"
        all={BODY_COLOURS}
        chosen={body.colour}
        choose={(colour) => change('colour the body', { colour })}
        markerOf={(colour) => <Marker shape="circle" colour={BODY_PAINT[colour]} />}
      />
      <Swatches
        label="Shape"
        all={BODY_SHAPES}
        chosen={body.shape}
        choose={(shape) => change('change the marker', { shape })}
        markerOf={(shape) => <Marker shape={shape} colour={BODY_PAINT[body.colour]} />}
      />
    </>
  )
}

/** A row of markers to choose from. */
function Swatches<T extends string>({
  label,
  all,
  chosen,
  choose,
  markerOf,
}: {
  label: string
  all: readonly T[]
  chosen: T
  choose: (one: T) => void
  markerOf: (one: T) => ReactNode
}) {
  return (
    <Flex gap="1" role="group" aria-label={label} marginBottom="1">
      {all.map((one) => (
        <IconButton
          key={one}
          size="2xs"
          variant={one === chosen ? 'outline' : 'ghost'}
          aria-label={one}
          title={one}
          aria-pressed={one === chosen}
          onClick={() => choose(one)}
        >
          {markerOf(one)}
        </IconButton>
      ))}
    </Flex>
  )
}
