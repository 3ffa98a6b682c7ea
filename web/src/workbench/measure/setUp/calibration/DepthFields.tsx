import { depthFactor } from '@apokinema/core/geometry'
import type { Reference } from '@apokinema/core/investigation'
import { fixed, metresIn, parseLengthRange } from '@apokinema/core/units'
import { Box, Button, Field, Stack, Text } from '@chakra-ui/react'
import { TextField } from '../../../../common/TextField.tsx'
import { useInvestigation } from '../../../../document/SessionContext.tsx'

/** Distances of the reference and the motion from the camera, if they differ; each can be a range. */
export function DepthFields({
  reference,
  change,
}: {
  reference: Reference
  change: (label: string, what: Partial<Omit<Reference, 'order'>>) => void
}) {
  const { lengthUnit } = useInvestigation()
  const { depth } = reference
  const written = (range: [number, number] | undefined) => {
    if (!range) return ''
    const [low, high] = range.map((metres) => String(Number((metres / metresIn(lengthUnit)).toPrecision(6))))
    return low === high ? `${low} ${lengthUnit}` : `${low} to ${high} ${lengthUnit}`
  }
  const field = (label: string, key: 'reference' | 'motion') => (
    <TextField
      label={label}
      placeholder="2.7 m or 2.6 to 2.8 m"
      value={written(depth?.[key])}
      onCommit={(text) => {
        const range = parseLengthRange(text, lengthUnit)
        if (!range) return 'A distance above 0, or a range of them.'
        change('tell a distance from the camera', {
          depth: { ...(depth ?? { reference: range.metres, motion: range.metres }), [key]: range.metres },
        })
        return null
      }}
    />
  )
  if (!depth)
    return (
      <Field.Root>
        <Button
          size="2xs"
          variant="outline"
          onClick={() => change('tell the depth', { depth: { reference: [1, 1], motion: [1, 1] } })}
        >
          It is nearer or farther than the motion
        </Button>
      </Field.Root>
    )
  const { factor, error } = depthFactor(depth)
  return (
    <Stack gap="2">
      {field('Its distance from the camera', 'reference')}
      {field('Distance of the motion', 'motion')}
      <Text fontSize="small">
        {Math.abs(factor - 1) < 5e-4
          ? 'Both as far away: nothing is corrected.'
          : `What is ${factor > 1 ? 'nearer looks larger' : 'farther looks smaller'}, so the scale is corrected by ${fixed(Math.abs(100 * (factor - 1)), 1)} %.`}
        {error > 0 && ` The range adds ± ${fixed(100 * error, 1)} %.`}
      </Text>
      <Box>
        <Button size="2xs" variant="outline" onClick={() => change('forget the depth', { depth: null })}>
          As far as the motion after all
        </Button>
      </Box>
    </Stack>
  )
}
