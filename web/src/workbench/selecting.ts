import { analyse } from '@apokinema/core/analysis'
import { DIRECTIONS, pulledOutline, recentredOutline } from '@apokinema/core/following'
import {
  cornerProblem,
  directionInPicture,
  lineError,
  type PlacedByHand,
  type Point,
  placeOf,
  wrapAngle,
} from '@apokinema/core/geometry'
import {
  axesOf,
  type CalibrationPart,
  edits,
  type Investigation,
  type PlacedPoint,
  type Plane,
} from '@apokinema/core/investigation'
import { placeIn } from '@apokinema/core/scene'
import { notify } from '../common/messages.tsx'
import type { Session } from '../document/session.ts'
import { isLocked, originSeen } from './calibrating.ts'
import { isBodyLocked } from './marking.ts'
import { placedBy } from './placing.ts'
import { type Selection, useWorkbench, workbench } from './workbenchStore.ts'

/** Number of directions between two handles of an outline. */
export const HANDLE_EVERY = 3

/** Deletes the selected thing. */
export function deleteSelected(session: Session): void {
  const { selection } = useWorkbench.getState()
  if (!selection) {
    notify('Nothing is selected, so nothing was deleted. Click a mark or a stretch first.')
    return
  }
  if (selection.kind === 'outline' || selection.kind === 'point') return
  if (selection.kind === 'mark' && isBodyLocked(session, selection.body)) return
  if (selection.kind === 'mark')
    session.edit(
      `delete the mark in frame ${selection.frame}`,
      edits.removeMark(selection.body, selection.frame),
    )
  if (selection.kind === 'end') {
    if (isLocked(session, 'scale')) return
    session.edit('delete the reference length', edits.removeReference(selection.reference))
  }
  if (selection.kind === 'probe') session.edit('delete the probe', edits.removeProbe(selection.probe))
  if (selection.kind === 'landmark')
    session.edit(
      `take the landmark’s mark in frame ${selection.frame} away`,
      edits.unmarkLandmark(selection.landmark, selection.frame),
    )
  if (selection.kind === 'corner') {
    if (isLocked(session, 'scale')) return
    session.edit('forget the plane', edits.removePlane())
  }
  if (selection.kind === 'stretch') session.edit('delete the stretch', edits.removeStretch(selection.id))
  if (selection.kind === 'origin' || selection.kind === 'tilt') {
    notify('Axes can’t be deleted, only moved.')
    return
  }
  workbench.select(null)
}

/** Returns the picture point of the selected thing in a frame; null if it has none. */
function selectedPoint(session: Session, frame: number): Point | null {
  const { selection } = useWorkbench.getState()
  const investigation = session.document
  const { bodies, references, probes, camera, plane } = investigation
  const seen = (placed: PlacedPoint | undefined) =>
    placed ? placeIn(analyse(investigation).scene(), placed, frame) : null
  switch (selection?.kind) {
    case 'mark':
      return bodies[selection.body]?.marks[selection.frame] ?? null
    case 'landmark':
      return camera.landmarks[selection.landmark]?.marks[selection.frame] ?? null
    case 'end':
      return seen(references[selection.reference]?.ends[selection.end])
    case 'probe':
      return seen(probes[selection.probe]?.points[selection.point])
    case 'corner':
      return seen(plane?.corners[selection.corner])
    case 'origin':
      return seen(axesOf(investigation).origin)
    default:
      return null
  }
}

const LOCKED_WITH: Partial<Record<Selection['kind'], CalibrationPart>> = {
  end: 'scale',
  corner: 'scale',
  origin: 'axes',
  tilt: 'axes',
}

/** Returns true if a thing on the picture is locked. */
export function isHeldFast({ locks, bodies }: Investigation, selection: Selection): boolean {
  if (selection.kind === 'mark') return bodies[selection.body]?.locked ?? false
  const part = LOCKED_WITH[selection.kind]
  return part !== undefined && locks[part] !== null
}

/** Returns the edit that moves a selected thing to a point of a frame's picture; null if it can't be moved. */
export function moveTo(session: Session, selection: Selection, to: PlacedByHand, frame: number) {
  const investigation = session.document
  const { references, bodies, probes, plane } = investigation
  if (isHeldFast(investigation, selection)) return null
  const at: PlacedPoint = { ...placeOf(to), frame }
  const replaced = <T>(all: T[], index: number, thing: T) => all.map((old, i) => (i === index ? thing : old))
  switch (selection.kind) {
    case 'mark': {
      const name = bodies[selection.body]?.name ?? 'body'
      return {
        label: `move the mark of ${name}`,
        mutator: edits.moveMark(selection.body, selection.frame, to),
      }
    }
    case 'landmark':
      return { label: 'move the landmark', mutator: edits.markLandmark(selection.landmark, frame, to) }
    case 'end': {
      const reference = references[selection.reference]
      if (!reference) return null
      const ends = replaced(reference.ends, selection.end, at) as [PlacedPoint, PlacedPoint]
      return {
        label: 'move an end of the reference length',
        mutator: edits.changeReference(selection.reference, { ends }),
      }
    }
    case 'probe': {
      const probe = probes[selection.probe]
      if (!probe) return null
      const points = replaced(probe.points, selection.point, at)
      return { label: 'move a point of the probe', mutator: edits.changeProbe(selection.probe, { points }) }
    }
    case 'corner': {
      if (!plane) return null
      const corners = replaced(plane.corners, selection.corner, at) as Plane['corners']
      // A corner that would make the sides cross is not moved.
      if (cornerProblem(corners)) return null
      return { label: 'move a corner of the plane', mutator: edits.changePlane({ corners }) }
    }
    case 'outline': {
      const { outline, marks } = bodies[selection.body]
      if (!outline || !marks[frame]) return null
      const radius = Math.hypot(to.x - marks[frame].x, to.y - marks[frame].y)
      const pulled = pulledOutline(outline, selection.direction, radius)
      return { label: 'correct the outline', mutator: edits.changeBody(selection.body, { outline: pulled }) }
    }
    case 'point': {
      const { outline, marks } = bodies[selection.body]
      const mark = marks[frame]
      const moved = outline && mark && recentredOutline(outline, { x: to.x - mark.x, y: to.y - mark.y })
      if (!moved) return null
      return {
        label: 'move the point that is followed',
        mutator: (draft: Investigation) => {
          edits.setMark(selection.body, frame, to)(draft)
          edits.changeBody(selection.body, { outline: moved })(draft)
        },
      }
    }
    case 'origin':
      return { label: 'move the origin', mutator: edits.setAxes({ origin: at }) }
    case 'tilt': {
      const { origin, turnedX } = axesOf(investigation)
      const seen = originSeen(session, frame)
      const direction = directionInPicture(seen ?? origin, to)
      const tilt = turnedX ? wrapAngle(direction + Math.PI) : direction
      const tiltError = lineError([seen ?? origin, to])
      return {
        label: 'tilt the axes',
        mutator: edits.setAxes({ tilt, tiltError, ...(seen && { origin: seen }) }),
      }
    }
    default:
      return null
  }
}

/** Selects the next or previous handle of the outline by which a body is to be followed. */
export function chooseHandle(session: Session, body: string, by: 1 | -1): void {
  if (!session.document.bodies[body]?.outline) return
  const { selection } = useWorkbench.getState()
  const from = selection?.kind === 'outline' ? selection.direction : by > 0 ? -HANDLE_EVERY : 0
  const direction = (from + by * HANDLE_EVERY + DIRECTIONS) % DIRECTIONS
  workbench.select({ kind: 'outline', body, direction })
}

/** Moves the selected handle of the outline outwards by some pixels, or inwards. */
export function pullOutline(session: Session, by: number): void {
  const { selection } = useWorkbench.getState()
  if (selection?.kind !== 'outline') return
  const outline = session.document.bodies[selection.body]?.outline
  if (!outline) return
  const pulled = pulledOutline(outline, selection.direction, outline.radii[selection.direction] + by)
  session.edit('correct the outline', edits.changeBody(selection.body, { outline: pulled }))
}

/** Moves the selected point by quarter pixels. */
export function moveSelectionBy(session: Session, dx: number, dy: number): boolean {
  const { selection, shown, frame } = useWorkbench.getState()
  const on = shown ?? frame
  const at = selectedPoint(session, on)
  if (!selection || !at) return false
  const move = moveTo(session, selection, placedBy('keys', { x: at.x + dx, y: at.y + dy }), on)
  if (move) session.edit(move.label, move.mutator)
  return move !== null
}
