import { Field, NativeSelect } from '@chakra-ui/react'

/** A labelled native select. */
export function Choice<T extends string>({
  label,
  value,
  options,
  onChoose,
}: {
  label: string
  value: T
  options: [T, string][]
  onChoose: (value: T) => void
}) {
  return (
    <Field.Root gap="1">
      <Field.Label fontSize="small" color="ink.muted" fontWeight="400">
        {label}
      </Field.Label>
      <NativeSelect.Root size="xs">
        <NativeSelect.Field value={value} onChange={(event) => onChoose(event.target.value as T)}>
          {options.map(([option, text]) => (
            <option key={option} value={option}>
              {text}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Field.Root>
  )
}
