import { edits, type ModelId, type Mutator } from '@apokinema/core/investigation'
import { readTruth, type sampleIds } from '@apokinema/demo'

/** What the pictures of the documentation show: samples that were measured in certain ways. */

/** Returns the fender, marked to the half pixel until a frame, its first bounce accepted as a break. */
export function bounced(): Mutator[] {
  const truth = readTruth('fender')
  const [id, ...graphs] = Array.from({ length: 3 }, () => crypto.randomUUID())
  return [
    edits.addBody(id, { position: graphs[0], velocity: graphs[1] }, 'fender'),
    (draft) => {
      for (const { frame, x, y } of truth.bodies[0].frames.slice(19, 150))
        edits.setMark(id, frame, { x: Math.round(2 * x) / 2, y: Math.round(2 * y) / 2 })(draft)
      edits.setRest(id, 2, 18, truth.bodies[0].frames[2])(draft)
      edits.setBreak(id, Math.ceil(60 * truth.constants.firstHit), 'break')(draft)
    },
  ]
}

/** Returns the hoisted lantern with its landmarks marked in every seventh frame and the lantern in every third. */
export function hoisted(): Mutator[] {
  const truth = readTruth('hoisted-lantern')
  const ids = Array.from({ length: 6 }, () => crypto.randomUUID())
  const [bottom, top] = truth.reference.ends
  return [
    edits.setCameraMotion('zoomed'),
    ...truth.landmarks!.map(
      ({ name, frames }, i): Mutator =>
        (draft) => {
          edits.addLandmark(ids[i], 0, frames[0])(draft)
          edits.changeLandmark(ids[i], { name })(draft)
          for (let frame = 7; frame < frames.length; frame += 7)
            edits.markLandmark(ids[i], frame, frames[frame])(draft)
        },
    ),
    edits.addReference(ids[2], [
      { ...bottom, frame: 0 },
      { ...top, frame: 0 },
    ]),
    edits.changeReference(ids[2], { name: 'staff', length: truth.reference.length }),
    edits.setAxes({ origin: { ...truth.origin, frame: 0 } }),
    edits.addBody(ids[3], { position: ids[4], velocity: ids[5] }, 'lantern'),
    (draft) => {
      for (let frame = 18; frame < truth.bodies[0].frames.length; frame += 3)
        edits.setMark(ids[3], frame, truth.bodies[0].frames[frame])(draft)
    },
  ]
}

/** Returns a stretch with a fit on a sample's first graph. */
export function stretched(
  { bodies: [{ position }] }: ReturnType<typeof sampleIds>,
  from: number,
  to: number,
  model: ModelId,
  quantity = 'y',
): Mutator[] {
  const stretch = crypto.randomUUID()
  return [
    edits.changeGraph(position, { quantity }),
    edits.addStretch(stretch, position, from, to),
    edits.addFit(crypto.randomUUID(), stretch, model),
  ]
}
