import type { ColumnFit } from '@apokinema/core/fitting'
import { significant, withUnit } from '@apokinema/core/units'
import { Box, Flex, Text } from '@chakra-ui/react'
import type { MouseEvent } from 'react'
import { COLOUR } from '../../theme/palettes.ts'
import { useWorkbench, workbench } from '../workbenchStore.ts'

const WIDTH = 270
const HEIGHT = 54
const EDGE = 5
/** Maximum number of points drawn. */
const MOST_DRAWN = 400

/** The residuals in the order of time; a click goes to a point's frame. */
export function ResidualStrip({ fit, colour }: { fit: ColumnFit; colour: string }) {
  const frame = useWorkbench((state) => state.frame)
  const { residualUnit, from, to } = fit
  const residuals = fit.residuals()
  const most = residuals.reduce((largest, { value }) => Math.max(largest, Math.abs(value)), 0)
  const step = Math.max(1, Math.ceil(residuals.length / MOST_DRAWN))
  const drawn = residuals.filter((_, i) => i % step === 0)
  const xOf = (place: number) => EDGE + ((place - from) / (to - from || 1)) * (WIDTH - 2 * EDGE)
  const yOf = (value: number) => HEIGHT / 2 - (most > 0 ? value / most : 0) * (HEIGHT / 2 - EDGE)
  const goToLeast = (of: (residual: (typeof residuals)[number]) => number) => {
    const [first] = [...residuals].sort((a, b) => of(a) - of(b))
    if (first) workbench.goTo(first.frame)
  }
  return (
    <Box marginTop="2">
      <Flex justify="space-between" fontSize="small" color="ink.muted">
        <Text>Residuals</Text>
        <Text fontFamily="mono">up to {withUnit(significant(most, 2), residualUnit)}</Text>
      </Flex>
      <Box
        as="button"
        display="block"
        width="100%"
        aria-label={`Residuals of ${residuals.length} points, up to ${withUnit(significant(most, 2), residualUnit)}: go to the largest`}
        title="What the points are off the curve by: click one to go to its frame"
        onClick={(event: MouseEvent<HTMLElement>) => {
          const box = event.currentTarget.getBoundingClientRect()
          const x = ((event.clientX - box.left) / box.width) * WIDTH
          // A click by keyboard has no position: it goes to the largest residual.
          if (event.detail === 0) goToLeast(({ value }) => -Math.abs(value))
          else goToLeast(({ place }) => Math.abs(xOf(place) - x))
        }}
      >
        <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" aria-hidden style={{ display: 'block' }}>
          <rect x="0" y="0" width={WIDTH} height={HEIGHT} fill={COLOUR.panel} stroke={COLOUR.line} />
          <line
            x1="0"
            x2={WIDTH}
            y1={HEIGHT / 2}
            y2={HEIGHT / 2}
            stroke={COLOUR.inkMuted}
            strokeWidth="0.75"
          />
          {drawn.map(({ frame: at, place, value, weight }) => (
            <circle
              key={at}
              cx={xOf(place)}
              cy={yOf(value)}
              r={at === frame ? 3.4 : residuals.length > 120 ? 1.4 : 2.2}
              fill={at === frame ? COLOUR.saffron : weight < 0.5 ? COLOUR.panel : colour}
              stroke={at === frame ? COLOUR.ink : colour}
              strokeWidth="0.8"
            />
          ))}
        </svg>
      </Box>
    </Box>
  )
}
