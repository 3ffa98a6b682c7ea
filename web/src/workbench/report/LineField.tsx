import { useState } from 'react'

/** A line of text that looks like the page and is committed when it is left. */
export function LineField({
  label,
  value,
  placeholder,
  onCommit,
}: {
  label: string
  value: string
  placeholder: string
  onCommit: (text: string) => void
}) {
  const [typed, setTyped] = useState<string | null>(null)
  const shown = typed ?? value
  return (
    <span className="line-field" data-value={shown || placeholder}>
      <input
        aria-label={label}
        dir="auto"
        value={shown}
        placeholder={placeholder}
        maxLength={200}
        onChange={({ target }) => setTyped(target.value)}
        onBlur={() => {
          if (typed !== null && typed.trim() !== value) onCommit(typed.trim())
          setTyped(null)
        }}
        onKeyDown={(event) => {
          event.stopPropagation()
          if (event.key === 'Enter') event.currentTarget.blur()
          if (event.key === 'Escape') setTyped(null)
        }}
      />
    </span>
  )
}
