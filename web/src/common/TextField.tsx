import { Box, Field, Input, type InputProps } from '@chakra-ui/react'
import { type KeyboardEvent, useId, useRef, useState } from 'react'

interface TextFieldProps extends Omit<InputProps, 'value' | 'onChange' | 'onCommit'> {
  label: string
  value: string
  /** Takes what was typed; gives a sentence where it can't be taken, null where it was. */
  onCommit: (text: string) => string | null
  hideLabel?: boolean
  /** Whether the value shown may be out of date: typing the same once more is then no less meant. */
  lagging?: boolean
}

/** A field that takes its text on Enter or on leaving, forgets it on Esc, and says what is wrong. */
export function TextField({
  label,
  value,
  onCommit,
  hideLabel = false,
  lagging = false,
  ...rest
}: TextFieldProps) {
  // What is being typed; null while nothing is, and the value itself is shown.
  const [draft, showDraft] = useState<string | null>(null)
  // The same once more, for handlers that run again before the next rendering: Enter leaves the field, too.
  const typed = useRef<string | null>(null)
  const [wrong, setWrong] = useState<string | null>(null)
  const id = useId()

  const setDraft = (text: string | null) => {
    typed.current = text
    showDraft(text)
  }
  const forget = () => {
    setDraft(null)
    setWrong(null)
  }
  const commit = () => {
    const text = typed.current
    if (text === null || (text === value && !lagging)) {
      forget()
      return true
    }
    const answer = onCommit(text.trim())
    if (answer === null) forget()
    else setWrong(answer)
    return answer === null
  }
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    // What was taken is done with: the keys go back to the workbench.
    if (event.key === 'Enter' && commit()) event.currentTarget.blur()
    if (event.key === 'Escape') {
      forget()
      event.currentTarget.blur()
    }
    event.stopPropagation()
  }
  return (
    <Field.Root invalid={wrong !== null} ids={{ control: id }} gap="1">
      <Field.Label fontSize="13px" color="ink.muted" fontWeight="400" maxWidth="100%" srOnly={hideLabel}>
        <Box as="span" truncate title={label}>
          {label}
        </Box>
      </Field.Label>
      <Input
        size="xs"
        bg="panel"
        fontFamily="mono"
        fontSize="13px"
        value={draft ?? value}
        // React's change event leaves out typing that ends in the same text.
        onInput={(event) => setDraft(event.currentTarget.value)}
        onBlur={commit}
        onKeyDown={onKeyDown}
        {...rest}
      />
      {wrong && <Field.ErrorText>{wrong}</Field.ErrorText>}
    </Field.Root>
  )
}

/** Returns what a number with its error means, such as 9.81 ± 0.02; an error of 0 where none is typed, null for what is none. */
export function parseMeasured(text: string): { value: number; error: number } | null {
  const [value, error = 0] = text.split(/±|\+-|\+\/-/).map(parseNumber)
  return value === null || error === null || error < 0 ? null : { value, error }
}

/** Returns what a typed number means; null for what is none. A comma is taken for a decimal point. */
export function parseNumber(text: string): number | null {
  const plain = text.replace('−', '-').replace(',', '.').trim()
  const value = Number(plain)
  return plain !== '' && Number.isFinite(value) ? value : null
}
