import { Checkbox } from '@chakra-ui/react'

/** A checkbox with a label. */
export function TickBox({
  on,
  set,
  children,
}: {
  on: boolean
  set: (on: boolean) => void
  children: string
}) {
  return (
    <Checkbox.Root
      size="sm"
      colorPalette="brand"
      checked={on}
      onCheckedChange={({ checked }) => set(checked === true)}
    >
      <Checkbox.HiddenInput />
      <Checkbox.Control />
      <Checkbox.Label fontWeight="400">{children}</Checkbox.Label>
    </Checkbox.Root>
  )
}
