import { Box, Grid, Text } from '@chakra-ui/react'

/** Pairs of a name and a value, one per line. */
export function Facts({ rows }: { rows: [string, string][] }) {
  return (
    <Grid templateColumns="auto 1fr" columnGap="3" fontSize="small">
      {rows.map(([name, value]) => (
        <Box display="contents" key={name}>
          <Text color="ink.muted">{name}</Text>
          <Text fontFamily="mono" textAlign="right" wordBreak="break-word">
            {value}
          </Text>
        </Box>
      ))}
    </Grid>
  )
}
