import {
  type CameraPath,
  type CombinedScale,
  type Corners,
  cameraPath,
  combineScales,
  depthFactor,
  distance,
  fitLens,
  lensStep,
  lineAngle,
  type Nudge,
  type Point,
  planeStep,
  relativeScaleError,
  type Scale,
  type SceneTransform,
  type Similarity,
  type Step,
  scaleOf,
  sceneTransform,
  similarityStep,
} from '../geometry/index.ts'
import {
  axesOf,
  type Camera,
  type Investigation,
  inOrder,
  type KnownMotion,
  type PlacedPoint,
  type Plane,
  pictureSize,
  type Reference,
} from '../investigation/index.ts'
import { FitError, fitPolynomial, pickRows, whitening } from '../regression/index.ts'
import { clockOf } from './clockOf.ts'
import { motionTableIn } from './motionTable.ts'
import { type LengthUnit, QUANTITIES } from './quantities.ts'

/** How the pictures of an investigation map to its scene. */
export interface InvestigationScene {
  /** The transform of one frame's picture; null where landmarks don't tell what the camera did. */
  at(frame: number): SceneTransform | null
  /** The transform of one frame if a landmark were a little elsewhere in it: for the propagation of errors. */
  nudged(frame: number, nudge: Nudge): SceneTransform | null
  /** Metres a pixel, where there is any: of the base picture, with a plane at the plane's middle. */
  scale: CombinedScale | null
  length: LengthUnit
  camera: CameraPath | null
  plane: Step | null
}

/** Kept by the camera object, which an edit of anything else leaves as it is. */
const paths = new WeakMap<Camera, { seconds: Float64Array; path: CameraPath | null }>()

/** The camera's motion as the landmarks tell it; null where it stood still or there are no landmarks yet. */
export function cameraOf(investigation: Investigation): CameraPath | null {
  const { camera } = investigation
  const clock = clockOf(investigation)
  if (camera.motion === 'still' || !clock) return null
  let kept = paths.get(camera)
  if (kept?.seconds !== clock.seconds) {
    const landmarks = inOrder(camera.landmarks).map(([id, landmark]) => ({ id, ...landmark }))
    kept = { seconds: clock.seconds, path: cameraPath(landmarks, camera.motion, clock.seconds) }
    paths.set(camera, kept)
  }
  return kept.path
}

/** The lens's coefficient, typed or told by the edges; null where the lens is taken for good. */
export function lensOf(investigation: Investigation): number | null {
  const { lens } = investigation
  if (!lens) return null
  const edges = Object.values(lens.edges).map((edge) => edge.points)
  return lens.k1 ?? fitLens(edges, pictureSize(investigation))?.k1 ?? null
}

/** Everything of the calibration but the scale: what has to be known before lengths can be compared. */
interface Flattened {
  lens: Step | null
  camera: CameraPath | null
  /** Takes a placed point to the base picture, without the lens's bulge; null where landmarks don't tell. */
  toBase(point: PlacedPoint): Point | null
}

function flattened(investigation: Investigation): Flattened {
  const camera = cameraOf(investigation)
  const k1 = lensOf(investigation)
  const lens = k1 === null ? null : lensStep(k1, pictureSize(investigation))
  const toBase = (placed: PlacedPoint) => {
    const flat = lens ? lens.forward(placed) : placed
    if (!camera) return flat
    const similarity = camera.toBase(placed.frame)
    return similarity && similarityStep(similarity).forward(flat)
  }
  return { lens, camera, toBase }
}

function planeOf(plane: Plane | null, { toBase }: Flattened): { step: Step; scale: Scale } | null {
  if (!plane?.width || !plane.height) return null
  const corners = plane.corners.map(toBase)
  if (corners.some((corner) => corner === null)) return null
  const step = planeStep(corners as Corners, plane.width, plane.height)
  return step && { step, scale: planeScale(corners as Corners, plane as SizedPlane) }
}

type SizedPlane = Plane & { width: number; height: number }

/** How large a pixel is in the middle of the plane, and how sure that is: from each corner's own error. */
function planeScale(corners: Corners, { width, height, sizeError, placingError }: SizedPlane): Scale {
  const middle = { x: width / 2, y: height / 2 }
  const sizeAt = (points: Corners) => {
    const step = planeStep(points, width, height)
    if (!step) return Number.NaN
    const [[a, b], [c, d]] = step.jacobian(step.backward(middle))
    return Math.sqrt(Math.abs(a * d - b * c))
  }
  const size = sizeAt(corners)
  let square = 0
  corners.forEach((corner, i) => {
    for (const [dx, dy] of [
      [placingError, 0],
      [0, placingError],
    ]) {
      const moved = corners.map((other, k) =>
        k === i ? { x: corner.x + dx, y: corner.y + dy } : other,
      ) as Corners
      square += (sizeAt(moved) / size - 1) ** 2
    }
  })
  const stated = { freedom: Number.POSITIVE_INFINITY }
  return {
    metresPerPixel: size,
    parts: [
      { source: 'placing', error: Math.sqrt(square), ...stated },
      { source: 'length', error: sizeError, ...stated },
    ],
  }
}

/** The scale that a reference gives by itself, measured where the camera and the lens are undone. */
function scaleOfReference(reference: Reference, { toBase }: Flattened): Scale | null {
  const [a, b] = reference.ends.map(toBase)
  return a && b ? scaleOf(reference, distance(a, b)) : null
}

/** The scale that a known motion gives: what is known over what its fit reads in pixels; null where it can't be fitted. */
function scaleOfMotion(investigation: Investigation, known: KnownMotion, pixels: Pixels): Scale | null {
  const stretch = investigation.stretches[known.stretch]
  const graph = stretch && investigation.graphs[stretch.graph]
  if (!graph) return null
  const table = motionTableIn(investigation, graph.body, pixels(graph.axes))
  const column = table.columns[graph.quantity]
  const rows = column.rows.filter(
    (row) => table.frames[row] >= stretch.from && table.frames[row] <= stretch.to,
  )
  const degree = known.derivative - QUANTITIES[graph.quantity].order
  if (degree < 0) return null
  const first = column.rows[0]
  try {
    const fit = fitPolynomial(
      rows.map((row) => table.times[row]),
      rows.map((row) => column.values[row]),
      degree,
      column.map
        ? whitening(
            pickRows(
              column.map,
              rows.map((row) => row - first),
            ),
          )
        : undefined,
    )
    const factor = degree === 2 ? 2 : 1
    const read = Math.abs(factor * fit.coefficients[degree])
    const error = factor * Math.sqrt(fit.covariance[degree][degree])
    if (!(read > 0) || !Number.isFinite(error)) return null
    const stated = { freedom: Number.POSITIVE_INFINITY }
    return {
      metresPerPixel: known.value / read,
      parts: [
        { source: 'motion', error: error / read, freedom: fit.freedom },
        {
          source: 'length',
          error: Math.hypot(known.error / known.value, known.derivative * table.rateError),
          ...stated,
        },
      ],
    }
  } catch (error) {
    if (error instanceof FitError) return null
    throw error
  }
}

type Pixels = (axes: string | null) => InvestigationScene

/** Kept by the investigation object, which every edit replaces; by the axes' id. */
const scenes = new WeakMap<Investigation, Map<string | null, InvestigationScene>>()

/**
 * How the pictures of an investigation map to its scene: in metres as soon as a reference length, a known
 * motion or a plane gives a scale, in pixels until then.
 *
 * @param axes by id; null: the main ones
 */
export function sceneOf(investigation: Investigation, axes: string | null = null): InvestigationScene {
  let kept = scenes.get(investigation)
  if (!kept) {
    kept = new Map()
    scenes.set(investigation, kept)
  }
  let scene = kept.get(axes)
  if (!scene) {
    scene = makeScene(investigation, axes)
    kept.set(axes, scene)
  }
  return scene
}

function makeScene(investigation: Investigation, axesId: string | null): InvestigationScene {
  const flat = flattened(investigation)
  const plane = planeOf(investigation.plane, flat)
  const pixels: Pixels = (id) => sceneIn(investigation, id, flat, null, null)
  const scale = plane
    ? combineScales([plane.scale])
    : combineScales(
        [
          ...inOrder(investigation.references)
            .filter(([, reference]) => reference.use === 'scale')
            .map(([, reference]) => scaleOfReference(reference, flat)),
          ...inOrder(investigation.knownMotions).map(([, known]) =>
            scaleOfMotion(investigation, known, pixels),
          ),
        ].filter((one) => one !== null),
      )
  return sceneIn(investigation, axesId, flat, plane?.step ?? null, scale)
}

function sceneIn(
  investigation: Investigation,
  axesId: string | null,
  { lens, camera }: Flattened,
  plane: Step | null,
  scale: CombinedScale | null,
): InvestigationScene {
  const axes = axesOf(investigation, axesId)
  const similarity = (frame: number) => (camera ? camera.toBase(frame) : null)
  const metresPerPixel = scale?.metresPerPixel ?? null
  const placing = similarity(axes.origin.frame)
  const seenBy = (showing: Similarity | null): SceneTransform | null =>
    camera && (!placing || !showing)
      ? null
      : sceneTransform({ ...axes, camera: placing }, { lens, camera: showing, plane, metresPerPixel })
  const known = new Map<number, SceneTransform | null>()
  const at = (frame: number): SceneTransform | null => {
    // Without a moving camera one transform serves all frames.
    const key = camera ? frame : 0
    let transform = known.get(key)
    if (transform === undefined) {
      transform = seenBy(similarity(frame))
      known.set(key, transform)
    }
    return transform
  }
  const nudged = (frame: number, nudge: Nudge) => seenBy(camera?.toBase(frame, nudge) ?? null)
  return { at, nudged, scale, length: scale ? 'm' : 'px', camera, plane }
}

/**
 * Where a placed point is in the picture of another frame: the same spot of the scene. Null where landmarks
 * don't tell what the camera did in one of the two.
 */
export function placeIn(
  scene: InvestigationScene,
  { frame: placed, ...point }: PlacedPoint,
  frame: number,
): Point | null {
  if (!scene.camera || placed === frame) return point
  const [from, to] = [scene.at(placed), scene.at(frame)]
  return from && to ? to.toPicture(from.toScene(point)) : null
}

/** What one reference length says beside the scale that is used. */
export interface ReferenceReport {
  id: string
  /** Length between its ends by the scale that is used, in metres; null where there is none. */
  measured: number | null
  /** measured over the stated length, less 1; null where either is missing. */
  off: number | null
  /** Standard errors that `off` is away from 0; null as above. */
  sigmas: number | null
  /** Angle between the line of its ends and the x axis, in radians within (−π/2, π/2], and its standard error. */
  angle: { value: number; error: number } | null
}

/** What every reference length says beside the scale that is used, in order. */
export function referenceReports(investigation: Investigation): ReferenceReport[] {
  const scene = sceneOf(investigation)
  return inOrder(investigation.references).map(([id, reference]) => {
    const ends = reference.ends.map((end) => scene.at(end.frame)?.toScene(end) ?? null)
    const [a, b] = ends
    if (!a || !b) return { id, measured: null, off: null, sigmas: null, angle: null }
    const apart = distance(a, b)
    // Lengths hold in the plane of motion; what is nearer to the camera is shorter than it looks there.
    const factor = reference.depth ? depthFactor(reference.depth).factor : 1
    const measured = scene.scale ? apart / factor : null
    const off = measured !== null && reference.length ? measured / reference.length - 1 : null
    const own = scaleOf(reference, distance(...reference.ends))
    const error =
      scene.scale && own ? Math.hypot(relativeScaleError(own), relativeScaleError(scene.scale)) : 0
    // Across the line an end is off by its placing error, made into lengths where it lies.
    const step = scene.at(reference.ends[0].frame)!.jacobian(reference.ends[0])
    const each = Math.sqrt(Math.abs(step[0][0] * step[1][1] - step[0][1] * step[1][0]))
    return {
      id,
      measured,
      off,
      sigmas: off !== null && error > 0 ? Math.abs(off) / error : null,
      angle: {
        value: lineAngle(Math.atan2(b.y - a.y, b.x - a.x)),
        error: (Math.SQRT2 * reference.placingError * each) / apart,
      },
    }
  })
}
