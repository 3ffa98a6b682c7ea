import { edits, type Mutator } from '@apokinema/core/investigation'
import { readTruth } from '@apokinema/demo'

/** What the pictures of the documentation show: samples that were measured in certain ways. */

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
