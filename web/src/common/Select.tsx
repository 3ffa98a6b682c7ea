import { NativeSelect, type NativeSelectRootProps } from '@chakra-ui/react'

/** A native select. */
export function Select<T extends string>({
  label,
  value,
  options,
  choose,
  ...root
}: {
  label: string
  value: T
  /** Values and their labels. */
  options: readonly (readonly [T, string])[]
  choose: (value: T) => void
} & Omit<NativeSelectRootProps, 'children'>) {
  return (
    <NativeSelect.Root size="xs" {...root}>
      <NativeSelect.Field
        aria-label={label}
        value={value}
        onChange={({ target }) => choose(target.value as T)}
        onKeyDown={(event) => event.stopPropagation()}
      >
        {options.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}
