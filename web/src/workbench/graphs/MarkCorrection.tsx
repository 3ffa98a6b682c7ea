import { analyse } from '@apokinema/core/analysis'
import { edits } from '@apokinema/core/investigation'
import type { DataColumn, DataTable } from '@apokinema/core/motion'
import { metresIn } from '@apokinema/core/units'
import { Input } from '@chakra-ui/react'
import { useState } from 'react'
import { notify } from '../../common/messages.tsx'
import { parseNumber } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { isBodyLocked } from '../marking.ts'

/** A cell in which the position of a mark is corrected, in the picture or in the scene. */
export function MarkCorrection({
  column,
  row,
  table,
  width,
  done,
}: {
  column: DataColumn
  row: number
  table: DataTable
  /** In pixels. */
  width: number
  done: () => void
}) {
  const session = useSession()
  const investigation = useInvestigation()
  const frame = table.frames[row]
  const [text, setText] = useState(String(column.values[row]))
  const commit = () => {
    const value = parseNumber(text)
    done()
    if (value === null) {
      notify('That is no number. The mark stays where it was.')
      return
    }
    const mark = investigation.bodies[column.body]?.marks[frame]
    const scene = analyse(investigation).scene()
    const transform = scene.at(frame)
    if (!mark || !transform || value === column.values[row] || isBodyLocked(session, column.body)) return
    const along = column.id.endsWith('x') ? 'x' : 'y'
    const own = analyse(investigation).table(column.body)
    const at = own.frames.indexOf(frame)
    const inScene = { x: own.column('x').values[at], y: own.column('y').values[at] }
    const metres = scene.length === 'px' ? 1 : metresIn(investigation.lengthUnit)
    const to = column.id.startsWith('picture')
      ? { x: mark.x, y: mark.y, [along]: value }
      : transform.toPicture({ ...inScene, [along]: value * metres })
    session.edit(`correct the mark in frame ${frame}`, edits.moveMark(column.body, frame, to))
  }
  return (
    <Input
      size="2xs"
      width={`${width}px`}
      textAlign="right"
      fontFamily="mono"
      autoFocus
      aria-label={`${column.name} in frame ${frame}`}
      value={text}
      onChange={({ target }) => setText(target.value)}
      onClick={(event) => event.stopPropagation()}
      onBlur={commit}
      onKeyDown={(event) => {
        event.stopPropagation()
        if (event.key === 'Enter') event.currentTarget.blur()
        if (event.key === 'Escape') done()
      }}
    />
  )
}
