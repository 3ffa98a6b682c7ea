import { Box, Text } from '@chakra-ui/react'
import { useRef, useState } from 'react'
import { useLook } from '../theme/appearance.ts'
import type { Area } from '../workbench/chart/area.ts'
import type { GraphChart } from '../workbench/chart/graphChart.ts'
import type { GraphDrawing } from '../workbench/chart/graphDrawing.ts'
import { NO_HIGHLIGHTS } from '../workbench/chart/highlights.ts'
import { useGraphChart } from '../workbench/chart/useGraphChart.ts'

/**
 * A graph of a series.
 *
 * @param about what a screen reader says of it behind its title
 * @param cursor seconds at which the cursor line stands; null: there is none
 */
export function TrialPlot({
  drawing,
  about,
  cursor = null,
}: {
  drawing: GraphDrawing
  about: string
  cursor?: number | null
}) {
  const chart = useRef<GraphChart | null>(null)
  const canvas = useRef<HTMLCanvasElement>(null)
  const axisName = useRef<HTMLDivElement>(null)
  const [, setArea] = useState<Area | null>(null)
  const highlights = cursor === null ? NO_HIGHLIGHTS : { ...NO_HIGHLIGHTS, cursor: { time: cursor } }
  useGraphChart(canvas, chart, drawing, highlights, useLook(), axisName, setArea)
  const { x, y, title } = drawing.content.description
  const name = ({ symbol, unit }: typeof x) => `${symbol}${unit ? ` (${unit})` : ''}`
  return (
    <Box position="relative" height="300px">
      <canvas ref={canvas} role="img" aria-label={`${title}, ${about}`} />
      <Text position="absolute" top="0" left="70px" fontSize="small" fontStyle="italic">
        {name(y)}
      </Text>
      <Text
        ref={axisName}
        position="absolute"
        bottom="2px"
        right="18px"
        fontSize="small"
        fontStyle="italic"
        bg="panel"
        paddingLeft="2"
      >
        {name(x)}
      </Text>
    </Box>
  )
}
