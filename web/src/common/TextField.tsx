import { Field, Input, type InputProps } from '@chakra-ui/react'
import { type KeyboardEvent, useEffect, useId, useState } from 'react'

interface TextFieldProps extends Omit<InputProps, 'value' | 'onChange' | 'onCommit'> {
  label: string
  value: string
  /** Takes what was typed; gives a sentence where it can't be taken, null where it was. */
  onCommit: (text: string) => string | null
  hideLabel?: boolean
}

/** A field that takes its text on Enter or on leaving, forgets it on Esc, and says what is wrong. */
export function TextField({ label, value, onCommit, hideLabel = false, ...rest }: TextFieldProps) {
  const [text, setText] = useState(value)
  const [wrong, setWrong] = useState<string | null>(null)
  const id = useId()
  useEffect(() => {
    setText(value)
    setWrong(null)
  }, [value])

  const commit = () => {
    if (text === value) {
      setWrong(null)
      return
    }
    const answer = onCommit(text.trim())
    setWrong(answer)
    // What was taken comes back as the new value, written in its own way.
    if (answer === null) setText(value)
  }
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key === 'Enter') commit()
    if (event.key === 'Escape') {
      setText(value)
      setWrong(null)
      event.currentTarget.blur()
    }
    event.stopPropagation()
  }
  return (
    <Field.Root invalid={wrong !== null} ids={{ control: id }} gap="1">
      <Field.Label fontSize="13px" color="ink.muted" fontWeight="400" srOnly={hideLabel}>
        {label}
      </Field.Label>
      <Input
        size="xs"
        bg="panel"
        fontFamily="mono"
        fontSize="13px"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={commit}
        onKeyDown={onKeyDown}
        {...rest}
      />
      {wrong && <Field.ErrorText>{wrong}</Field.ErrorText>}
    </Field.Root>
  )
}

/** What a typed number means; null for what is none. A comma is taken for a decimal point. */
export function parseNumber(text: string): number | null {
  const plain = text.replace('−', '-').replace(',', '.').trim()
  const value = Number(plain)
  return plain !== '' && Number.isFinite(value) ? value : null
}
