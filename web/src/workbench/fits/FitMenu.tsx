import { availableModels, availableRelations } from '@apokinema/core/fitting'
import type { ModelId } from '@apokinema/core/investigation'
import type { QuantityInfo } from '@apokinema/core/motion'
import { MODEL_USES } from '@apokinema/words/models'
import { Box, Button, Menu, Portal, Text } from '@chakra-ui/react'
import { Formula } from './Formula.tsx'

/** Choices besides a model: suggestions, or both coordinates of a throw together. */
export type FitChoice = ModelId | 'suggest' | 'throw'

/** How its button looks: as what comes next, as one of several, or as an afterthought. */
const LOOKS = {
  next: { colorPalette: 'brand' },
  outlined: { variant: 'outline', bg: 'panel' },
  plain: { variant: 'plain', paddingX: '0', color: 'petrol' },
} as const

/** Menu of the models for a quantity, by kind of motion. */
export function FitMenu({
  label,
  onChoose,
  quantity,
  xQuantity,
  look,
}: {
  label: string
  onChoose: (choice: FitChoice) => void
  quantity: QuantityInfo
  /** Quantity of the x axis; null for time. */
  xQuantity: QuantityInfo | null
  look: keyof typeof LOOKS
}) {
  return (
    <Menu.Root lazyMount unmountOnExit onSelect={({ value }) => onChoose(value as FitChoice)}>
      <Menu.Trigger asChild>
        <Button size="2xs" {...LOOKS[look]}>
          {label}
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content width="min(24rem, calc(100vw - 16px))" maxHeight="min(34rem, 70vh)" overflowY="auto">
            {!xQuantity && <Shortcuts isPosition={quantity.id === 'x' || quantity.id === 'y'} />}
            {(xQuantity ? availableRelations(quantity, xQuantity) : availableModels(quantity)).map(
              ({ group, name: kind, models }) => (
                <Menu.ItemGroup key={group}>
                  <Menu.ItemGroupLabel
                    fontSize="tiny"
                    fontWeight="600"
                    color="ink.muted"
                    borderTop="1px solid"
                    borderColor="line"
                    marginTop="1"
                  >
                    {kind}
                  </Menu.ItemGroupLabel>
                  {models.map(({ model, name: title, formula }) => (
                    <ModelItem key={model.id} model={model.id} title={title} formula={formula} />
                  ))}
                </Menu.ItemGroup>
              ),
            )}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}

/** Choices without a model: the best of all, or both coordinates of a throw. */
function Shortcuts({ isPosition }: { isPosition: boolean }) {
  return (
    <>
      <Menu.Item value="suggest">
        <Box>
          <Text fontWeight="600">Suggest a model</Text>
          <Text fontSize="small" color="ink.muted">
            Tries them all on these points and says in words which fit.
          </Text>
        </Box>
      </Menu.Item>
      {isPosition && (
        <Menu.Item value="throw">
          <Box>
            <Text fontWeight="600">Throw, x and y together</Text>
            <Text fontSize="small" color="ink.muted">
              Uniform along x, accelerated along y: launch speed and angle, apex, range.
            </Text>
          </Box>
        </Menu.Item>
      )}
    </>
  )
}

function ModelItem({ model, title, formula }: { model: ModelId; title: string; formula: string | null }) {
  return (
    <Menu.Item value={model} alignItems="flex-start" title={MODEL_USES[model]}>
      <Box minWidth="0">
        <Text fontWeight="600">{title}</Text>
        {formula ? (
          <Formula tex={formula} fontSize="small" color="ink.muted" />
        ) : (
          <Text fontSize="small" color="ink.muted">
            {MODEL_USES[model]}
          </Text>
        )}
      </Box>
    </Menu.Item>
  )
}
