import { Box, Button, Grid, Textarea } from '@chakra-ui/react'
import { useEffect, useLayoutEffect, useRef, useState } from 'react'
import { plainToTex } from '../plainTex.ts'
import { typeset } from '../tex.ts'

/** Pieces that a click puts into an equation; the cursor goes where "|" is. */
const PIECES: [string, string][] = [
  ['a/b', '\\frac{|}{}'],
  ['√', '\\sqrt{|}'],
  ['x²', '^{2}'],
  ['xₙ', '_{|}'],
  ['·', '\\cdot '],
  ['±', '\\pm '],
  ['μ', '\\mu '],
  ['Δ', '\\Delta '],
  ['θ', '\\theta '],
  ['ω', '\\omega '],
  ['π', '\\pi '],
  ['≈', '\\approx '],
]

/** An equation to be written: names such as mu and Delta, fractions as a/b and powers as ^2 are understood as they are typed. */
export function EquationField({
  tex,
  set,
  done,
}: {
  tex: string
  set: (tex: string) => void
  /** Called when Enter ends it. */
  done: () => void
}) {
  const [typed, setTyped] = useState(tex)
  const field = useRef<HTMLTextAreaElement>(null)
  const preview = useRef<HTMLDivElement>(null)
  useEffect(() => setTyped(tex), [tex])
  useLayoutEffect(() => {
    typeset(plainToTex(typed), preview.current!, true)
  }, [typed])
  const put = (piece: string) => {
    const { selectionStart, selectionEnd } = field.current!
    const text = typed.slice(0, selectionStart) + piece.replace('|', '') + typed.slice(selectionEnd)
    const cursor = selectionStart + (piece.includes('|') ? piece.indexOf('|') : piece.length)
    setTyped(text)
    requestAnimationFrame(() => {
      field.current?.focus()
      field.current?.setSelectionRange(cursor, cursor)
    })
  }
  const commit = () => {
    const written = plainToTex(typed)
    if (written !== tex) set(written)
  }
  return (
    <Box>
      <Textarea
        ref={field}
        size="xs"
        fontFamily="mono"
        aria-label="Equation"
        placeholder="v = sqrt(2 g h), F = mu m g, 1/2 m v^2"
        autoresize
        maxLength={2000}
        value={typed}
        autoFocus={tex === ''}
        onChange={({ target }) => setTyped(target.value)}
        onBlur={commit}
        onKeyDown={(event) => {
          event.stopPropagation()
          if (event.key === 'Enter' && !event.shiftKey) {
            event.preventDefault()
            commit()
            done()
          }
        }}
      />
      <Box ref={preview} paddingY="2" overflowX="auto" data-equation-preview />
      <Grid templateColumns="repeat(6, 1fr)" gap="1">
        {PIECES.map(([label, piece]) => (
          <Button
            key={label}
            size="2xs"
            variant="outline"
            minWidth="0"
            onMouseDown={(event) => event.preventDefault()}
            onClick={() => put(piece)}
          >
            {label}
          </Button>
        ))}
      </Grid>
    </Box>
  )
}
