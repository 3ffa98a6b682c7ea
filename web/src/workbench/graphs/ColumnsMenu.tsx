import { lowered } from '@apokinema/core/graphs'
import { MOST_ROWS } from '@apokinema/core/motion'
import { Box, Button, Grid, HStack, Stack, Text } from '@chakra-ui/react'
import { Columns3 } from 'lucide-react'
import { Pop } from '../../common/Pop.tsx'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { TickBox } from '../../common/TickBox.tsx'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useTable } from '../tableStore.ts'
import { columnGroups } from './useDataTable.ts'

const set = useTable.setState

/** Menu of the table's columns, bodies and rows. */
export function ColumnsMenu({ body }: { body: string }) {
  const investigation = useInvestigation()
  const { columns, all, even } = useTable()
  const groups = columnGroups(investigation, body)
  const order = groups.flatMap(({ quantities }) => quantities.map(({ id }) => id))
  const toggle = (id: string, on: boolean) => {
    const chosen = on ? [...columns, id] : columns.filter((other) => other !== id)
    set({ columns: order.filter((one) => chosen.includes(one)) })
  }
  return (
    <Pop
      placement="top-start"
      width={{ base: '22rem', md: '40rem' }}
      button={
        <Button size="xs" variant="outline" bg="panel">
          <Columns3 size={14} /> Columns and rows
        </Button>
      }
    >
      <HStack gap="6" marginBottom="3" align="flex-end" flexWrap="wrap">
        {Object.keys(investigation.bodies).length > 1 && (
          <TickBox on={all} set={(on) => set({ all: on })}>
            all bodies side by side
          </TickBox>
        )}
        <TickBox on={even !== null} set={(on) => set({ even: on ? 5 : null })}>
          evenly spaced rows
        </TickBox>
        {even !== null && (
          <Box width="5rem">
            <TextField
              label="how many"
              value={String(even)}
              inputMode="numeric"
              onCommit={(text) => {
                const count = parseNumber(text)
                if (count === null || count < 2 || count > MOST_ROWS || !Number.isInteger(count))
                  return 'From 2 on.'
                set({ even: count })
                return null
              }}
            />
          </Box>
        )}
      </HStack>
      {even !== null && (
        <Text fontSize="small" color="ink.muted" marginBottom="3">
          Over the selected stretch, or all of it; interpolated between the marks.
        </Text>
      )}
      <Grid templateColumns={{ base: '1fr', md: '1fr 1fr 1fr' }} gap="4">
        {groups.map(({ name, quantities }) => (
          <Stack key={name} gap="1">
            <Text fontSize="small" color="ink.muted">
              {name}
            </Text>
            {quantities.map(({ id, name: words }) => (
              <TickBox key={id} on={columns.includes(id)} set={(on) => toggle(id, on)}>
                {lowered(words)}
              </TickBox>
            ))}
          </Stack>
        ))}
      </Grid>
    </Pop>
  )
}
