import { randomSource } from '@apokinema/core/random'
import { createCanvas } from '@napi-rs/canvas'
import { inPicture, type Sample, throughCamera } from './samples/index.ts'
import { stillScene } from './scenery.ts'

/** Instants that one exposure is made of, unless a sample says otherwise. */
const EXPOSURES = 16

/** Real time of a frame's mid-exposure in seconds: the shutter opens and closes evenly around the frame's own time. */
function frameTime(sample: Sample, frame: number): number {
  return frame / (sample.captureRate ?? sample.rate)
}

/** Films a sample: gives the frames one after the other as packed RGB, as a camera would see them. */
export function* film(sample: Sample): Generator<Buffer> {
  const { width, height, exposures = EXPOSURES } = sample
  const stage = sample.stage ?? sample
  const still = stillScene(stage.width, stage.height, [sample.still])
  const canvas = createCanvas(width, height)
  const context = canvas.getContext('2d')
  const grain = grainSource(sample.noise, 4711)
  const light = new Float32Array(width * height * 3)
  const open = sample.shutter / (sample.captureRate ?? sample.rate)

  for (let frame = 0; frame < sample.frames; frame++) {
    light.fill(0)
    for (let k = 0; k < exposures; k++) {
      const time = frameTime(sample, frame) + open * ((k + 0.5) / exposures - 0.5)
      context.save()
      if (sample.camera) {
        const { zoom } = sample.camera(time)
        const corner = throughCamera(sample, time, { x: 0, y: 0 })
        context.setTransform(zoom, 0, 0, zoom, corner.x, corner.y)
        context.imageSmoothingQuality = 'high'
      }
      context.drawImage(still, 0, 0)
      sample.moving(context, time)
      context.restore()
      const { data } = context.getImageData(0, 0, width, height)
      for (let i = 0, j = 0; j < light.length; i += 4, j += 3) {
        light[j] += data[i]
        light[j + 1] += data[i + 1]
        light[j + 2] += data[i + 2]
      }
    }
    const picture = Buffer.alloc(light.length)
    for (let j = 0; j < light.length; j += 3) {
      // Most of a small sensor's grain is in the brightness.
      const bright = grain()
      for (let c = 0; c < 3; c++) {
        const value = light[j + c] / exposures + bright + 0.35 * grain()
        picture[j + c] = value < 0 ? 0 : value > 255 ? 255 : value + 0.5
      }
    }
    yield picture
  }
}

/** Normal noise from a long table that is entered at random: fast, and nothing repeats visibly. */
function grainSource(deviation: number, seed: number): () => number {
  const random = randomSource(seed)
  const table = Float32Array.from({ length: 1 << 16 }, () => {
    const radius = Math.sqrt(-2 * Math.log(1 - random()))
    return deviation * radius * Math.cos(2 * Math.PI * random())
  })
  let at = 0
  return () => {
    if ((at & 1023) === 0) at = Math.floor(random() * 64) << 10
    at = (at + 1) & 0xffff
    return table[at]
  }
}

/** Returns what is true of a sample: the body's place in the picture at every frame's mid-exposure, and the constants behind it. */
export function truthOf(sample: Sample) {
  return {
    sample: sample.id,
    width: sample.width,
    height: sample.height,
    rate: sample.rate,
    captureRate: sample.captureRate ?? sample.rate,
    pixelsPerMetre: sample.view.pixelsPerMetre,
    origin: throughCamera(sample, 0, sample.view.origin),
    constants: sample.constants,
    reference: sample.reference,
    bodies: sample.bodies.map(({ name, pose }) => ({
      name,
      frames: Array.from({ length: sample.frames }, (_, frame) => {
        const time = frameTime(sample, frame)
        const where = pose(time)
        const at = sample.project?.(where) ?? inPicture(sample.view, where)
        const { x, y } = throughCamera(sample, time, at)
        return { frame, t: time, x: round(x), y: round(y), phase: where.phase }
      }),
    })),
    ...(sample.plane && { plane: sample.plane }),
    ...(sample.landmarks && {
      landmarks: sample.landmarks.map(({ name, at }) => ({
        name,
        frames: Array.from({ length: sample.frames }, (_, frame) => {
          const { x, y } = throughCamera(sample, frameTime(sample, frame), at)
          return { frame, x: round(x), y: round(y) }
        }),
      })),
    }),
  }
}

export type Truth = ReturnType<typeof truthOf>

/** Positions are kept to a millionth of a pixel. */
function round(value: number): number {
  return Math.round(value * 1e6) / 1e6
}
