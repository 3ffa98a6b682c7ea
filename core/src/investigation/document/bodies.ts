import type { Outline } from '../../following/index.ts'
import type { Point } from '../../geometry/index.ts'
import type { Mass } from '../../units/index.ts'
import type { ById } from './order.ts'

/** Colours of bodies in the order in which they are given out. */
export const BODY_COLOURS = ['coral', 'jade', 'iris', 'cyan', 'rose', 'olive'] as const
export type BodyColour = (typeof BODY_COLOURS)[number]

/** Marker shapes, one beside each colour, so that bodies are told apart without colour too. */
export const BODY_SHAPES = ['circle', 'square', 'triangle', 'diamond', 'cross', 'star'] as const
export type BodyShape = (typeof BODY_SHAPES)[number]

/** Returns the next colour that no body has, with its shape; once all are taken, they are given out anew. */
export function freeColour(bodies: ById<Pick<Body, 'colour'>>): Pick<Body, 'colour' | 'shape'> {
  const taken = Object.values(bodies).map(({ colour }) => colour)
  const free = BODY_COLOURS.findIndex((colour) => !taken.includes(colour))
  const index = free < 0 ? taken.length % BODY_COLOURS.length : free
  return { colour: BODY_COLOURS[index], shape: BODY_SHAPES[index] }
}

/** Standard errors between a mark and its neighbours' motion beyond which it is an outlier: the default, and what can be chosen. */
export const OUTLIER_LIMIT = { least: 3, default: 4, most: 12 } as const

/** Where a body is in one frame, in continuous pixels of the upright picture: set by hand, or by following. */
export type Mark = Point & {
  /** Set where somebody has said that it is right, although it does not fit the marks around it. */
  right?: true
  /** Where the body is a streak: from its middle, which is the mark, to one of its ends. */
  streak?: Point
  /** The last frame in which the body still rests here: one measurement over all of them. */
  until?: number
} & (
    | {
        by: 'hand'
        /** Standard error of placing it along each direction, in pixels, by how it was placed. */
        error?: number
      }
    /** How sure following was of it, 0 to 1. */
    | { by: 'follow'; certainty: number }
  )

/** What somebody has said of a frame's mark: that the motion breaks before it, as at a bounce, or that it doesn't. */
export const BREAK_WORDS = ['break', 'none'] as const
export type BreakWord = (typeof BREAK_WORDS)[number]

/** A tracked object. */
export interface Body {
  order: number
  name: string
  colour: BodyColour
  shape: BodyShape
  /** Null while it is not known. */
  mass: Mass | null
  /** Not drawn on the picture. */
  hidden: boolean
  /** Its marks can't be changed. */
  locked: boolean
  /** Outline by which it was followed last, around the point that was clicked; null before. */
  outline: Outline | null
  /** Standard error of its marks along each direction, in pixels, where somebody has typed it; null: estimated from them. */
  markError: number | null
  /** Keyed by frame index. */
  marks: Record<string, Mark>
  /** A second point that is fixed to the body, which shows how it is turned; keyed by frame index. */
  second: Record<string, Point>
  /** Keyed by frame index. */
  breaks: Record<string, BreakWord>
}

/** Returns the names of bodies, by id. */
export function bodyNames(bodies: Readonly<Record<string, Body>>): Record<string, string> {
  return Object.fromEntries(Object.entries(bodies).map(([id, { name }]) => [id, name]))
}
