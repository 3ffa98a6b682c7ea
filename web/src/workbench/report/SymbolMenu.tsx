import { Button, Grid } from '@chakra-ui/react'
import { Pop } from '../../common/Pop.tsx'

/** Symbols that physics needs. */
const SYMBOLS = [...'αβγδεθλμνπρστφωΔΣΩ°·×±≈≠≤≥∝√²³₀₁₂→∞½']

/** Inserts a symbol at the cursor. */
export function SymbolMenu({ insert }: { insert: (symbol: string) => void }) {
  return (
    <Pop
      placement="bottom-start"
      width="15rem"
      button={
        <Button size="xs" variant="ghost" aria-label="Symbols" title="Symbols">
          Ω
        </Button>
      }
    >
      <Grid templateColumns="repeat(8, 1fr)" gap="1">
        {SYMBOLS.map((symbol) => (
          <Button key={symbol} size="2xs" variant="ghost" minWidth="0" onClick={() => insert(symbol)}>
            {symbol}
          </Button>
        ))}
      </Grid>
    </Pop>
  )
}
