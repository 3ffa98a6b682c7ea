import { NativeSelect, Text } from '@chakra-ui/react'

/** A select in a line above the stage. */
export function BandSelect<T extends string | number>({
  label,
  value,
  choices,
  width,
  onChange,
}: {
  label: string
  value: T
  choices: [T, string][]
  width: string
  onChange: (value: T) => void
}) {
  return (
    <NativeSelect.Root size="xs" width={width}>
      <NativeSelect.Field
        aria-label={label}
        color="white"
        css={{ '& option': { color: 'ink' } }}
        value={value}
        onChange={(event) => onChange(choices[event.target.selectedIndex][0])}
      >
        {choices.map(([choice, words]) => (
          <option key={choice} value={choice}>
            {words}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}

/** A checkbox in a line above the stage. */
export function BandCheck({
  label,
  checked,
  onChange,
}: {
  label: string
  checked: boolean
  onChange: (checked: boolean) => void
}) {
  return (
    <Text as="label" display="flex" gap="1.5">
      <input type="checkbox" checked={checked} onChange={(event) => onChange(event.target.checked)} />
      {label}
    </Text>
  )
}
