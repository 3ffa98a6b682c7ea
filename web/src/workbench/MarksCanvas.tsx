import type { Investigation } from '@apokinema/core/investigation'
import { useInvestigationExcept } from '../document/SessionContext.tsx'
import { usePicture } from './ClipContext.tsx'
import { useFollowing } from './following/followStore.ts'
import { drawAllMarks } from './marksDrawing.ts'
import { activeBody } from './shown.ts'
import { useTable } from './tableStore.ts'
import { useCanvas } from './useCanvas.ts'
import { useWorkbench, type View } from './workbenchStore.ts'

/** Parts of the document that do not affect marks; graphs do only if a known motion sets the scale. */
function withoutGraphs({ knownMotions }: Investigation): readonly (keyof Investigation)[] {
  return Object.keys(knownMotions).length > 0
    ? []
    : ['graphs', 'stretches', 'fits', 'calculations', 'tolerance']
}

/**
 * Marks on the video: earlier ones are small dots that fade with time, the current one is a ring with a free
 * centre; with times and vectors if they are switched on. Drawn on a separate canvas, since hundreds of marks
 * change with every step.
 */
export function MarksCanvas({
  size,
  view,
  scale = 1,
}: {
  size: { width: number; height: number }
  view: View
  /** Size of the signs, for small pictures. */
  scale?: number
}) {
  const investigation = useInvestigationExcept(withoutGraphs)
  const chosenBody = useWorkbench((state) => state.body)
  const selection = useWorkbench((state) => state.selection)
  const rows = useTable((state) => (state.open ? state.rows : null))
  const { picture } = usePicture()
  const frame = picture?.index ?? null
  const active = activeBody(investigation, chosenBody)
  const phase = useFollowing((state) => state.phase)
  const mode = useWorkbench((state) => state.mode)
  const by = useFollowing((state) => state.by)
  const outlined = mode.kind === 'follow' && phase === 'ready' && by === 'template' ? mode.body : null

  // The trail of the body that is being marked is hollow, so that the next spot shows through.
  const marked = mode.kind === 'mark' ? mode.body : null

  const canvas = useCanvas(
    size,
    (context, density, look) => {
      if (frame === null) return
      context.scale(density, density)
      drawAllMarks(context, investigation, frame, {
        size,
        view,
        scale,
        look,
        active,
        selection,
        outlined,
        marked,
        rows: rows && rows.to > rows.from ? rows : null,
      })
    },
    [frame, view, investigation, active, selection, scale, outlined, marked, rows],
  )
  return (
    <canvas
      ref={canvas}
      style={{ position: 'absolute', inset: 0, width: '100%', height: '100%', pointerEvents: 'none' }}
    />
  )
}
