import type { GraphFit } from '@apokinema/core/analysis'
import { edits, type Graph, inOrder } from '@apokinema/core/investigation'
import { Button, CloseButton, Flex, HStack, Text } from '@chakra-ui/react'
import { v4 as uuid } from 'uuid'
import { Select } from '../../common/Select.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { SymbolText } from '../SymbolText.tsx'

/** Columns that are fitted together with a stretch's own, and their shared parameters. */
export function Together({ shown, graph }: { shown: GraphFit; graph: Graph }) {
  const session = useSession()
  const { bodies } = useInvestigation()
  const { id, settings, all, xQuantity } = shown
  const others = inOrder(bodies).filter(([body]) => body !== graph.body)
  const together = inOrder(settings.together)
  if (xQuantity || settings.model === 'free-form' || (others.length === 0 && together.length === 0))
    return null
  const taken = new Set(together.map(([, { body, quantity }]) => `${body} ${quantity}`))
  const offered = others
    .filter(([body]) => !taken.has(`${body} ${graph.quantity}`))
    .map(([body, { name }]) => [body, name] as const)
  const common =
    all.length > 1
      ? all[0].parameters.filter(({ key }) =>
          all.every((fit) => fit.parameters.some((one) => one.key === key)),
        )
      : []
  const toggle = (key: string) => {
    const { [key]: was, ...rest } = settings.shared
    session.edit(
      was ? 'let a parameter differ' : 'have a parameter in common',
      edits.changeFit(id, { shared: was ? rest : { ...settings.shared, [key]: true } }),
    )
  }
  return (
    <Flex direction="column" gap="1" marginTop="1" fontSize="small" color="ink.muted" data-together>
      {together.map(([key, { body, quantity }]) => (
        <HStack key={key} gap="1">
          <Text flex="1" truncate>
            together with {bodies[body]?.name ?? 'a body that is gone'}, {quantity}
          </Text>
          <CloseButton
            size="2xs"
            aria-label={`Fit ${bodies[body]?.name ?? 'it'}, ${quantity} apart`}
            title="Fit it apart again"
            onClick={() => session.edit('fit a column apart', edits.fitApart(key, id))}
          />
        </HStack>
      ))}
      {common.length > 0 && (
        <HStack gap="1.5" flexWrap="wrap">
          <Text>In common:</Text>
          {common.map(({ key, symbol, subscript, name }) => (
            <Button
              key={key}
              size="2xs"
              variant={settings.shared[key] ? 'subtle' : 'outline'}
              aria-pressed={settings.shared[key] ?? false}
              aria-label={`${name} in common`}
              title={`One ${name} for all`}
              onClick={() => toggle(key)}
            >
              <SymbolText symbol={symbol} subscript={subscript} />
            </Button>
          ))}
        </HStack>
      )}
      {offered.length > 0 && (
        <Select
          label="Fit together with another body"
          value=""
          options={[['', 'Fit together with another body …'], ...offered]}
          choose={(body) => {
            if (body !== '')
              session.edit(
                'fit two bodies together',
                edits.fitTogether(uuid(), id, { body, quantity: graph.quantity, model: settings.model }),
              )
          }}
        />
      )}
    </Flex>
  )
}
