import { parseNumber, TextField } from './TextField.tsx'

/** A limit of an axis; empty: as far as the values go. */
export function LimitField({
  label,
  value,
  set,
}: {
  label: string
  value: number | null
  /** Handles a typed limit; returns an error message, or null if it was accepted. */
  set: (value: number | null) => string | null
}) {
  return (
    <TextField
      label={label}
      placeholder="auto"
      inputMode="decimal"
      value={value === null ? '' : String(Number(value.toPrecision(6)))}
      onCommit={(text) => {
        const typed = text === '' ? null : parseNumber(text)
        return text !== '' && typed === null ? 'A number.' : set(typed)
      }}
    />
  )
}
