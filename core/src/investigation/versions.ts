import { freeze, produce } from 'immer'
import { USUAL_PLACING } from '../geometry/index.ts'
import { fileTiming } from '../time/index.ts'
import { FIRST_AXES } from './document/calibration.ts'
import { DOCUMENT_VERSION, type Investigation } from './document/investigation.ts'
import { newReport, wholeRange } from './document/report.ts'
import { danglingReference, removeDangling } from './references.ts'
import { checkMarksInSteps } from './schema/bodies.ts'
import { isPlainObject } from './schema/fields.ts'
import { checkFields, checkInvestigation } from './schema/index.ts'
import { isUnknownBlock } from './schema/report.ts'
import { checkValue, checkValueInSteps } from './values.ts'

/** Upgrades from one version to the next, keyed by the version that they read. Each is a pure function. */
type Upgrade = (document: Record<string, unknown>) => Record<string, unknown>
const UPGRADES: Record<number, Upgrade> = {
  /** Version 1 knew the file's own times only, and the picture as the file has it. */
  1: ({ footage, ...document }) => ({
    ...document,
    version: 2,
    footage: footage && { ...footage, rotation: 0, notedCaptureRate: null, converted: false },
    orientation: { mirrored: false, quarterTurns: 0 },
    timing: fileTiming(),
  }),
  /** Version 2 had one reference length that counted, one set of axes, and a camera that stood still. */
  2: (document) => {
    const { axes, references, graphs, span } = document as unknown as Version2
    const frame = span.first
    const [primary] = Object.entries(references).sort(
      ([idA, a], [idB, b]) => a.order - b.order || (idA < idB ? -1 : 1),
    )
    const { origin, ...lying } = axes
    return {
      ...document,
      version: 3,
      lengthUnit: 'm',
      references: mapped(references, (reference, id) => ({
        ...reference,
        note: '',
        ends: reference.ends.map((end) => ({ ...end, frame })),
        depth: null,
        use: id === primary[0] ? 'scale' : 'check',
      })),
      knownMotions: {},
      plane: null,
      lens: null,
      camera: { motion: 'still', landmarks: {} },
      axes: {
        [FIRST_AXES]: {
          order: 0,
          name: 'axes',
          origin: { ...origin, frame },
          ...lying,
          turnedX: false,
          turnedY: false,
        },
      },
      mainAxes: FIRST_AXES,
      gravity: null,
      probes: {},
      locks: { scale: null, axes: null },
      hidden: { scale: false, axes: false },
      graphs: mapped(graphs, (graph) => ({ ...graph, axes: null })),
    }
  },
  /** Version 3 knew marks by hand only, and of a body its looks. */
  3: (document) => {
    const { bodies } = document as { bodies: Record<string, object> }
    return {
      ...document,
      version: 4,
      bodies: mapped(bodies, (body) => ({
        ...body,
        mass: null,
        hidden: false,
        locked: false,
        outline: null,
      })),
    }
  },
  /** Version 4 knew neither breaks, second points and typed errors of marks, nor what else is drawn on the picture. */
  4: (document) => {
    const { bodies } = document as { bodies: Record<string, object> }
    return {
      ...document,
      version: 5,
      drawn: { trail: null, times: false, velocity: false, acceleration: false, curves: true },
      strayLimit: 4,
      bodies: mapped(bodies, (body) => ({ ...body, markError: null, second: {}, breaks: {} })),
    }
  },
  /** Version 5 derived velocities from three neighbouring points, always, and showed no error bars. */
  5: (document) => {
    const { graphs } = document as { graphs: Record<string, object> }
    return {
      ...document,
      version: 6,
      derivation: { method: 'three-point', reach: 3 },
      graphs: mapped(graphs, (graph) => ({ ...graph, derivation: null, errorBars: false })),
    }
  },
  /** Version 6 had one quantity a graph, always against time, none of one's own, and left no point of a stretch out. */
  6: (document) => {
    const { graphs, stretches, derivation } = document as unknown as Version6
    const even = (way: object | null) => way && { ...way, weighted: false }
    const scaling = { from: null, to: null, zero: false, log: false, transform: 'none', label: '' }
    return {
      ...document,
      version: 7,
      freeFall: { value: 9.81, error: 0 },
      direction: 0,
      derivation: even(derivation),
      constants: {},
      quantities: {},
      graphs: mapped(graphs, (graph) => ({
        ...graph,
        derivation: even(graph.derivation),
        across: 't',
        other: null,
        also: {},
        look: 'points',
        scaleAcross: scaling,
        scaleUp: scaling,
        equal: false,
        grid: true,
        title: '',
        height: 1,
        notes: {},
        tangent: false,
        handTangent: null,
        overlays: {},
      })),
      stretches: mapped(stretches, (stretch) => ({ ...stretch, without: {} })),
    }
  },
  /** Version 7 fitted two models, each to one column, and compared their readings with a typed value only. */
  7: (document) => {
    const { fits } = document as {
      fits: Record<string, { expected: { value: number; label: string } | null }>
    }
    return {
      ...document,
      version: 8,
      calculations: {},
      tolerance: null,
      fits: mapped(fits, ({ expected, ...fit }) => ({
        ...fit,
        name: '',
        robust: 'none',
        expression: '',
        start: {},
        held: {},
        together: {},
        shared: {},
        expected: expected && { reading: '', against: { kind: 'value', error: 0, ...expected } },
      })),
    }
  },
  /** Version 8 stated one placing error for all points of a reference or of the plane, and no error of a direction. */
  8: (document) => {
    const { references, plane, axes, gravity } = document as unknown as Version8
    return {
      ...document,
      version: 9,
      references: mapped(references, ({ placingError, ...reference }) => ({
        ...reference,
        ends: reference.ends.map((end) => withPlacing(end, placingError)),
      })),
      plane: plane && planeWithPlacing(plane),
      axes: mapped(axes, (set) => ({ ...set, tiltError: 0 })),
      gravity: gravity === null ? null : { direction: gravity, error: 0 },
    }
  },
  /** Version 9 had names of its own for the axes of a graph, its mark style, fixed parameters and the limit of outliers. */
  9: (document) => {
    const { strayLimit, graphs, fits, ...others } = document as unknown as Version9
    return {
      ...others,
      version: 10,
      outlierLimit: strayLimit,
      graphs: mapped(graphs, ({ across, look, scaleAcross, scaleUp, ...graph }) => ({
        ...graph,
        xQuantity: across,
        markStyle: look,
        scaleX: scaleAcross,
        scaleY: scaleUp,
      })),
      fits: mapped(fits, ({ held, ...fit }) => ({ ...fit, fixed: held })),
    }
  },
  /** Version 10 had no report. */
  10: (document) => ({ ...document, version: 11, report: newReport() }),
  /** Version 11 showed graphs in a report along the axes that they have themselves. */
  11: (document) => {
    const { report } = document as unknown as Version11
    return {
      ...document,
      version: 12,
      report: {
        ...report,
        blocks: mapped(report.blocks, (block) =>
          block.kind === 'graph' ? { ...block, rangeX: wholeRange(), rangeY: wholeRange() } : block,
        ),
      },
    }
  },
  /** Version 12 remembered no proposals that were refused. */
  12: (document) => ({ ...document, version: 13, refusals: {} }),
}

/** What the upgrade from version 11 reads. */
interface Version11 {
  report: { blocks: Record<string, { kind: string }> }
}

/** What the upgrade from version 9 reads. */
interface Version9 {
  strayLimit: number
  graphs: Record<string, { across: string; look: string; scaleAcross: object; scaleUp: object }>
  fits: Record<string, { held: object }>
}

/** What the upgrade from version 8 reads. */
interface Version8 {
  references: Record<string, { ends: object[]; placingError: number }>
  plane: { corners: object[]; placingError: number } | null
  axes: Record<string, object>
  gravity: number | null
}

/** Returns a point with its placing error, which is left out where it is the usual one. */
const withPlacing = (point: object, error: number) => (error === USUAL_PLACING ? point : { ...point, error })

const planeWithPlacing = ({ placingError, ...plane }: NonNullable<Version8['plane']>) => ({
  ...plane,
  corners: plane.corners.map((corner) => withPlacing(corner, placingError)),
})

/** What the upgrade from version 6 reads. */
interface Version6 {
  derivation: object
  graphs: Record<string, { derivation: object | null }>
  stretches: Record<string, object>
}

/** What the upgrade from version 2 reads. */
interface Version2 {
  axes: { origin: object; tilt: number; placed: boolean }
  references: Record<string, { order: number; ends: object[] }>
  graphs: Record<string, object>
  span: { first: number }
}

function mapped<T, U>(things: Record<string, T>, change: (thing: T, id: string) => U): Record<string, U> {
  return Object.fromEntries(Object.entries(things).map(([id, thing]) => [id, change(thing, id)]))
}

/** A document written by a newer Apokinema than this one. */
export class NewerDocumentError extends Error {
  constructor(what: 'investigation' | 'series', found: number, known: number) {
    super(
      `This ${what} was made with a newer Apokinema (form ${found}; this one reads up to ${known}). It is left as it is.`,
    )
  }
}

/**
 * Reads a stored document: an older version is upgraded step by step, a newer one refused with a
 * NewerDocumentError, anything else that does not fit with a RangeError.
 */
export function readInvestigation(stored: unknown): Investigation {
  const document = ofKnownVersion(stored)
  checkValue(document, 'the document')
  return checked(freeze(withKnownBlocks(upgradedToNewest(document)), true))
}

/**
 * Does what readInvestigation does, in steps: a document with many marks does not keep others waiting.
 *
 * @param pause awaited between steps
 */
export async function readInvestigationInSteps(
  stored: unknown,
  pause: () => Promise<void>,
): Promise<Investigation> {
  const known = ofKnownVersion(stored)
  await checkValueInSteps(known, 'the document', pause)
  const document = withKnownBlocks(upgradedToNewest(known))
  freeze(document, true)
  await pause()
  await checkMarksInSteps(document.bodies, pause)
  return checked(document)
}

type Stored = Record<string, unknown> & { version: number }

function ofKnownVersion(stored: unknown): Stored {
  if (typeof stored !== 'object' || stored === null)
    throw new RangeError('An investigation must be an object.')
  const { version } = stored as Record<string, unknown>
  if (typeof version !== 'number') throw new RangeError('An investigation must say its version.')
  if (version > DOCUMENT_VERSION) throw new NewerDocumentError('investigation', version, DOCUMENT_VERSION)
  return stored as Stored
}

function upgradedToNewest(stored: Stored): Record<string, unknown> {
  let document: Record<string, unknown> = stored
  for (let at = stored.version; at < DOCUMENT_VERSION; at++) {
    if (!Object.hasOwn(UPGRADES, at))
      throw new RangeError(`No Apokinema has written version ${stored.version}.`)
    document = upgraded(document, at)
  }
  return document
}

/**
 * Returns a document whose report holds blocks of unknown kinds as text: whoever wrote them loses nothing, and the rest can
 * be read.
 */
export function withKnownBlocks(document: Record<string, unknown>): Record<string, unknown> {
  const { report } = document as { report?: { blocks?: unknown } }
  if (!isPlainObject(report) || !isPlainObject(report.blocks)) return document
  const { blocks } = report
  if (!Object.values(blocks).some(isUnknownBlock)) return document
  const known = mapped(blocks as Record<string, Record<string, unknown>>, (block) =>
    isUnknownBlock(block)
      ? { kind: 'unknown', order: Number(block.order) || 0, pin: null, original: JSON.stringify(block) }
      : block,
  )
  return { ...document, report: { ...report, blocks: known } }
}

/** @param document frozen, so that what edits leave as it is need not be checked again */
function checked(document: Record<string, unknown>): Investigation {
  const read = checkFields(document)
  return checkInvestigation(danglingReference(read) ? produce(read, removeDangling) : read)
}

/** Upgrades read an older form without checking it: one that does not keep to it makes them fall over. */
function upgraded(document: Record<string, unknown>, from: number): Record<string, unknown> {
  try {
    return UPGRADES[from](document)
  } catch {
    throw new RangeError(`It does not keep to form ${from}, which it says that it is in.`)
  }
}
