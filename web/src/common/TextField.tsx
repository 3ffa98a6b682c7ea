import { Box, Field, Input, type InputProps } from '@chakra-ui/react'
import { type ComponentProps, type KeyboardEvent, useId, useRef, useState } from 'react'

interface TextFieldProps extends Omit<InputProps, 'value' | 'onChange' | 'onCommit'> {
  label: string
  value: string
  /** Handles a typed text; returns an error message, or null if it was accepted. */
  onCommit: (text: string) => string | null
  hideLabel?: boolean
  /** Set if the value shown may be out of date: committing the same text again then counts as an edit. */
  lagging?: boolean
}

/** The text that is being typed into a field, why it was not accepted, and what the field does. */
interface TypedText {
  shown: string
  wrong: string | null
  handlers: Pick<ComponentProps<'input'>, 'onInput' | 'onBlur' | 'onKeyDown'>
}

/** Keeps what is typed into a field until it is committed on Enter or blur, or restored on Esc. */
function useTypedText({
  value,
  onCommit,
  lagging = false,
}: Pick<TextFieldProps, 'value' | 'onCommit' | 'lagging'>): TypedText {
  // The text being typed; null otherwise, when the value itself is shown.
  const [draft, showDraft] = useState<string | null>(null)
  // The same in a ref, for handlers that run again before the next rendering: Enter also blurs the field.
  const typed = useRef<string | null>(null)
  const [wrong, setWrong] = useState<string | null>(null)

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
    // After a commit the focus returns to the page, so that the workbench's keys work again.
    if (event.key === 'Enter' && commit()) event.currentTarget.blur()
    if (event.key === 'Escape') {
      forget()
      event.currentTarget.blur()
    }
    event.stopPropagation()
  }
  return {
    shown: draft ?? value,
    wrong,
    handlers: {
      // React's change event leaves out typing that ends in the same text.
      onInput: (event) => setDraft(event.currentTarget.value),
      onBlur: commit,
      onKeyDown,
    },
  }
}

/** A field that commits its text on Enter or blur, restores it on Esc, and shows errors. */
export function TextField({
  label,
  value,
  onCommit,
  hideLabel = false,
  lagging = false,
  ...rest
}: TextFieldProps) {
  const { shown, wrong, handlers } = useTypedText({ value, onCommit, lagging })
  const id = useId()
  return (
    <Field.Root invalid={wrong !== null} ids={{ control: id }} gap="1">
      <Field.Label fontSize="small" color="ink.muted" fontWeight="400" maxWidth="100%" srOnly={hideLabel}>
        <Box as="span" truncate title={label}>
          {label}
        </Box>
      </Field.Label>
      <Input size="xs" bg="panel" fontFamily="mono" fontSize="small" value={shown} {...handlers} {...rest} />
      {wrong && <Field.ErrorText>{wrong}</Field.ErrorText>}
    </Field.Root>
  )
}

/** A text field as one of many in a table, which is styled by the table: plain elements are rendered much faster. */
export function CellField({
  label,
  value,
  onCommit,
  ...rest
}: Pick<TextFieldProps, 'label' | 'value' | 'onCommit' | 'inputMode' | 'maxLength'>) {
  const { shown, wrong, handlers } = useTypedText({ value, onCommit })
  const id = useId()
  return (
    <>
      <input
        aria-label={label}
        aria-invalid={wrong !== null}
        aria-describedby={wrong ? id : undefined}
        value={shown}
        {...handlers}
        {...rest}
      />
      {wrong && (
        <div id={id} role="alert">
          {wrong}
        </div>
      )}
    </>
  )
}

/** Parses a number with its standard error, such as 9.81 ± 0.02; the error is 0 if none is typed. Returns null for anything else. */
export function parseMeasured(text: string): { value: number; error: number } | null {
  const [value, error = 0] = text.split(/±|\+-|\+\/-/).map(parseNumber)
  return value === null || error === null || error < 0 ? null : { value, error }
}

/** Parses a number; a comma counts as a decimal point. Returns null for anything else. */
export function parseNumber(text: string): number | null {
  const plain = text.replace('−', '-').replace(',', '.').trim()
  const value = Number(plain)
  return plain !== '' && Number.isFinite(value) ? value : null
}
