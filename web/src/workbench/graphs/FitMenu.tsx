import { MODELS } from '@apokinema/core/fitting'
import type { ModelId } from '@apokinema/core/investigation'
import { Box, Button, Menu, Portal, Text } from '@chakra-ui/react'

/** Models that say something about a quantity of this order. */
export function FitMenu({
  label,
  onChoose,
  order,
}: {
  label: string
  onChoose: (model: ModelId) => void
  order: number
}) {
  const models = Object.values(MODELS).filter(({ degree }) => degree >= order)
  return (
    <Menu.Root onSelect={({ value }) => onChoose(value as ModelId)}>
      <Menu.Trigger asChild>
        <Button size="2xs" colorPalette="brand">
          {label}
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content maxWidth="22rem">
            {models.map(({ id, name, use }) => (
              <Menu.Item key={id} value={id} alignItems="flex-start">
                <Box>
                  <Text fontWeight="600">{name}</Text>
                  <Text fontSize="13px" color="ink.muted">
                    {use}
                  </Text>
                </Box>
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}
