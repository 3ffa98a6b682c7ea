import type { ColumnFit } from '@apokinema/core/fitting'
import { studentQuantile } from '@apokinema/core/regression'
import { fixed, significant, withUnit } from '@apokinema/core/units'
import { Box, Text } from '@chakra-ui/react'
import { TickBox } from '../../common/TickBox.tsx'
import { drawBand, useBanded } from '../chart/predictionBands.ts'
import { SymbolText } from '../SymbolText.tsx'

/** Correlations between the parameters of a fit, and its prediction band. */
export function Correlations({ id, fit }: { id: string; fit: ColumnFit }) {
  const isDrawn = useBanded((state) => state.fits.has(id))
  const correlations = fit.correlations()
  const found = fit.parameters.flatMap(({ isFixed }, k) => (isFixed ? [] : [k]))
  const symbol = (k: number) => (
    <SymbolText symbol={fit.parameters[k].symbol} subscript={fit.parameters[k].subscript} />
  )
  const middle = (fit.from + fit.to) / 2
  const wide = studentQuantile(0.95, fit.freedom) * fit.predictionErrorAt(middle)
  return (
    <Box fontSize="small" paddingTop="1" data-correlations>
      {found.length > 1 && (
        <>
          <Text color="ink.muted">
            Correlations of what was found: near ±1 the points hardly tell the two apart.
          </Text>
          <Box
            as="table"
            fontFamily="mono"
            marginY="1"
            css={{ '& td, & th': { padding: '0 10px 0 0', textAlign: 'right' } }}
          >
            <thead>
              <tr>
                <th />
                {found.slice(0, -1).map((k) => (
                  <th key={fit.parameters[k].key} scope="col">
                    {symbol(k)}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {found.slice(1).map((k, row) => (
                <tr key={fit.parameters[k].key}>
                  <th scope="row">{symbol(k)}</th>
                  {found.slice(0, row + 1).map((other) => (
                    <td key={fit.parameters[other].key}>{fixed(correlations[k][other], 3)}</td>
                  ))}
                </tr>
              ))}
            </tbody>
          </Box>
        </>
      )}
      {!fit.loop && Number.isFinite(wide) && (
        <>
          <Text color="ink.muted">
            95 % of further points would lie within ±&nbsp;{withUnit(significant(wide, 2), fit.unit)} of the
            curve.
          </Text>
          <TickBox on={isDrawn} set={(is) => drawBand(id, is)}>
            Draw that band
          </TickBox>
        </>
      )}
    </Box>
  )
}
