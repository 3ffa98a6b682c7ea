import { analyse } from '@apokinema/core/analysis'
import { longestStretch, type Suggestion, suggestModels } from '@apokinema/core/fitting'
import { edits, type Graph } from '@apokinema/core/investigation'
import { alongLine, type MotionTable } from '@apokinema/core/motion'
import { measurement } from '@apokinema/core/units'
import { suggestionText } from '@apokinema/words/suggestions'
import { Box, Button, Dialog, Flex, HStack, Stack, Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import { notify } from '../../common/messages.tsx'
import { Window } from '../../common/Window.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { Formula } from './Formula.tsx'
import { fitMutator, useSuggesting } from './useFitting.ts'

/** Suggested models for a stretch, best first. */
export function SuggestWindow({ tableOf }: { tableOf: (graph: Graph) => MotionTable }) {
  const id = useSuggesting(({ stretch }) => stretch)
  const investigation = useInvestigation()
  const stretch = id === null ? undefined : investigation.stretches[id]
  const graph = stretch && investigation.graphs[stretch.graph]
  const close = () => useSuggesting.setState({ stretch: null })
  if (!id || !stretch || !graph) return null
  return (
    <Window title={`Which model fits stretch ${stretch.number}?`} open close={close}>
      <Dialog.Body paddingTop="0">
        <Suggestions stretchId={id} graph={graph} table={tableOf(graph)} close={close} />
      </Dialog.Body>
    </Window>
  )
}

function Suggestions({
  stretchId,
  graph,
  table,
  close,
}: {
  stretchId: string
  graph: Graph
  table: MotionTable
  close: () => void
}) {
  const session = useSession()
  const investigation = useInvestigation()
  const stretch = investigation.stretches[stretchId]
  const [found, setFound] = useState<Suggestion[] | null>(null)
  const info = analyse(investigation).quantity(graph.quantity)
  useEffect(() => {
    // Lets the window open before the models are tried.
    const later = setTimeout(() => {
      setFound(suggestModels(table, graph.quantity, alongLine(graph.quantity)?.order ?? null, stretch))
    }, 30)
    return () => clearTimeout(later)
  }, [table, graph.quantity, stretch])
  if (!found || !info) return <Text color="ink.muted">Trying all models on these points…</Text>
  const [best, ...others] = found
  if (!best) return <Text>These points are too few for any model.</Text>
  const take = (model: Suggestion['model']) => {
    session.edit('fit a stretch', fitMutator(stretchId, model, graph))
    close()
  }
  const lengthen = (model: Suggestion['model']) => {
    const frames = table.frames
    const longest = longestStretch(
      table,
      graph.quantity,
      stretch,
      { model },
      { from: frames[0], to: frames.at(-1)! },
    )
    if (!longest) {
      notify('This model does not fit even the middle of the stretch.')
      return
    }
    if (longest.from === stretch.from && longest.to === stretch.to) {
      notify('It holds on this stretch, and not beyond it.')
      return
    }
    session.edit('lay the stretch where the model holds', (draft) => {
      edits.changeStretch(stretchId, longest.from, longest.to)(draft)
      fitMutator(stretchId, model, graph)(draft)
    })
    notify(`The stretch now goes from frame ${longest.from} to ${longest.to}.`)
    close()
  }
  return (
    <Stack gap="0" data-suggestions>
      <SuggestionRow suggestion={best} take={take} lengthen={lengthen} />
      {others.some(({ above }) => above) && (
        <Text fontSize="small" color="ink.muted" paddingTop="3" paddingBottom="1">
          Others, and how much worse they do by Akaike’s criterion: from about 10 on there is little to be
          said for one.
        </Text>
      )}
      {others.map((one) => (
        <SuggestionRow key={one.model} suggestion={one} take={take} lengthen={lengthen} />
      ))}
    </Stack>
  )
}

/** A model with its verdict, its reading, and how much worse than the best one it is. */
function SuggestionRow({
  suggestion: { model, name, fit, verdict, isBest, above },
  take,
  lengthen,
}: {
  suggestion: Suggestion
  take(model: Suggestion['model']): void
  lengthen(model: Suggestion['model']): void
}) {
  return (
    <Box
      paddingY="2"
      paddingX={isBest ? '3' : '0'}
      bg={isBest ? 'petrol.tint' : undefined}
      borderRadius={isBest ? '8px' : undefined}
      borderTop={isBest ? undefined : '1px solid'}
      borderColor="line"
      data-model={model}
    >
      <Flex gap="3" align="flex-start">
        <Box flex="1" minWidth="0">
          <Text fontWeight="600">{name}</Text>
          <Text fontSize="small" color={fit ? 'ink' : 'ink.muted'}>
            {suggestionText({ verdict })}
          </Text>
          {fit && (
            <Text fontSize="small" color="ink.muted">
              {fit.reading.name} {measurement(fit.reading.value, fit.reading.error, fit.reading.unit)}
            </Text>
          )}
          {isBest && fit && <Formula tex={fit.formula} fontSize="small" marginTop="1" />}
        </Box>
        <Stack gap="1" align="flex-end" flex="none">
          {fit && (
            <Button
              size="2xs"
              colorPalette="brand"
              variant={isBest ? 'solid' : 'outline'}
              onClick={() => take(model)}
            >
              Fit it
            </Button>
          )}
          {above !== null && above > 0 && (
            <Text
              fontSize="small"
              color="ink.muted"
              fontFamily="mono"
              title="By how much Akaike’s criterion for few points is above the best one’s"
            >
              +{above < 100 ? above.toFixed(1) : Math.round(above)}
            </Text>
          )}
        </Stack>
      </Flex>
      {isBest && fit && (
        <HStack marginTop="2">
          <Button size="2xs" variant="outline" bg="panel" onClick={() => lengthen(model)}>
            Find the longest stretch on which it holds
          </Button>
        </HStack>
      )}
    </Box>
  )
}
