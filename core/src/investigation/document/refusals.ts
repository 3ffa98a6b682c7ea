import type { Point } from '../../geometry/index.ts'

/** A proposal that a person refused; it is not made again. */
export type Refusal = { order: number } & RefusedProposal

/** Returns the refusals of one kind. */
export function refusalsOf<Kind extends Refusal['kind']>(
  { refusals }: { refusals: Readonly<Record<string, Refusal>> },
  kind: Kind,
): (Refusal & { kind: Kind })[] {
  return Object.values(refusals).filter((one): one is Refusal & { kind: Kind } => one.kind === kind)
}

export type RefusedProposal =
  /** Something that moves: where it was in one frame, in pixels of the picture. */
  | ({ kind: 'body'; frame: number } & Point)
  /** The frames in which the pictures change. */
  | { kind: 'span' }
  /** Frames in which one law of motion holds for a body. */
  | { kind: 'stretch'; body: string; from: number; to: number }
  /** The capture rate that the camera has noted; what the background says that the camera did. */
  | { kind: 'capture-rate' }
  | { kind: 'camera' }
  /** Axes by the motion of a body. */
  | { kind: 'axes'; body: string }
  /** Equal divisions along a reference length. */
  | { kind: 'divisions'; reference: string }
