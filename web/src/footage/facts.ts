import type { Footage } from '@apokinema/core/investigation'
import { encodeTicks, nearestFrame } from '@apokinema/core/time'
import {
  BlobSource,
  EncodedPacketSink,
  Input,
  type InputVideoTrack,
  MATROSKA,
  MP4,
  QTFF,
  UrlSource,
  WEBM,
} from 'mediabunny'
import { browserLack } from './browserLack.ts'
import { FootageError } from './FootageError.ts'
import { looksConvertible } from './files.ts'

/** What the index of a clip states, without decoding a picture. */
export interface ClipFacts
  extends Pick<Footage, 'width' | 'height' | 'timeBase' | 'ticks' | 'rotation' | 'notedCaptureRate'> {
  flip: boolean
  /** Frames that the index lists but the truncated file does not contain. They are left out. */
  missing: number
}

export interface OpenClip {
  input: Input
  track: InputVideoTrack
  facts: ClipFacts
  /** Presentation time of every frame in the container's seconds, in order. */
  seconds: Float64Array
  /** Frames at which decoding can begin, in order. */
  keys: number[]
}

const WHAT_TO_DO = 'Record or save it again as MP4 (H.264) and try once more; nothing was changed.'

/**
 * Opens a clip from a local file or from the server and reads its index.
 *
 * @throws FootageError if it is no video that this browser can decode
 */
export async function openClip(from: Blob | string): Promise<OpenClip> {
  const lack = browserLack()
  if (lack) throw new FootageError(lack)
  if (from instanceof Blob && from.size === 0)
    throw new FootageError('This file is empty. Choose another one; nothing was changed.')
  const source =
    from instanceof Blob ? new BlobSource(from) : new UrlSource(new URL(from, self.location.origin).href)
  const input = new Input({ source, formats: [MP4, QTFF, WEBM, MATROSKA] })
  try {
    if (!(await input.canRead()))
      throw new FootageError(
        `This is not a video that is known here. ${WHAT_TO_DO}`,
        from instanceof Blob && (await looksConvertible(from)),
      )
    const track = await input.getPrimaryVideoTrack()
    if (!track) throw noPicture((await input.getTracks()).length)
    if (!(await track.canDecode())) {
      const codec = (await track.getCodec()) ?? 'an unknown codec'
      throw new FootageError(`This browser cannot decode this video (${codec}). ${WHAT_TO_DO}`, true)
    }
    const index = await readIndex(track)
    const notedCaptureRate = captureRateOf(await input.getMetadataTags().catch(() => ({})))
    return { input, track, ...index, facts: { ...index.facts, notedCaptureRate } }
  } catch (error) {
    input.dispose()
    if (error instanceof FootageError) throw error
    throw damaged()
  }
}

function noPicture(tracks: number): FootageError {
  if (tracks === 0) return damaged()
  return new FootageError(
    'There is no picture in this file, only sound. Choose another one; nothing was changed.',
  )
}

function damaged(): FootageError {
  return new FootageError(`This video is damaged or cut off: its index can't be read. ${WHAT_TO_DO}`)
}

async function readIndex(
  track: InputVideoTrack,
): Promise<Pick<OpenClip, 'seconds' | 'keys'> & { facts: Omit<ClipFacts, 'notedCaptureRate'> }> {
  const decodeOrder: number[] = []
  const keyTimes: number[] = []
  const sink = new EncodedPacketSink(track)
  for await (const packet of sink.packets(undefined, undefined, { metadataOnly: true })) {
    decodeOrder.push(packet.timestamp)
    if (packet.type === 'key') keyTimes.push(packet.timestamp)
  }
  const lost = decodeOrder.slice(await heldPackets(sink, decodeOrder))
  const end = lost.reduce((least, time) => Math.min(least, time), Number.POSITIVE_INFINITY)
  // Frames that an edit list puts before zero are never shown.
  const shown = decodeOrder.filter((time) => time > -1e-9)
  const seconds = Float64Array.from(shown.filter((time) => time < end)).sort()
  if (seconds.length === 0) throw new FootageError(`There is no frame in this video. ${WHAT_TO_DO}`)
  const resolution = Math.round(await track.getTimeResolution())
  const ticks = Array.from(seconds, (time) => Math.round(time * resolution))
  return {
    seconds,
    keys: keyTimes.map((time) => nearestFrame(seconds, time)).sort((a, b) => a - b),
    facts: {
      width: await track.getDisplayWidth(),
      height: await track.getDisplayHeight(),
      rotation: await track.getRotation(),
      flip: await track.getFlip(),
      timeBase: { numerator: 1, denominator: resolution },
      ticks: encodeTicks(ticks),
      missing: shown.length - seconds.length,
    },
  }
}

/** Returns how many packets, in decode order, a file contains: all of them, unless it is truncated. */
async function heldPackets(sink: EncodedPacketSink, decodeOrder: number[]): Promise<number> {
  const isHeld = async (at: number) => {
    const packet = await sink.getPacket(decodeOrder[at] + 1e-6).catch(() => null)
    return packet !== null && Math.abs(packet.timestamp - decodeOrder[at]) < 1e-5
  }
  const count = decodeOrder.length
  if (count === 0 || (await isHeld(count - 1))) return count
  let held = 0
  let cut = count - 1
  while (held < cut) {
    const middle = (held + cut) >> 1
    if (await isHeld(middle)) held = middle + 1
    else cut = middle
  }
  return held
}

/**
 * Returns the capture rate that a camera noted in the file: Android's `com.android.capture.fps`, a 32-bit float
 * or its digits. Rates too low for slow motion are ignored. Apple's cameras write slow motion
 * with its true times and need no note.
 */
export function captureRateOf(tags: { raw?: Record<string, unknown> }): number | null {
  const noted = tags.raw?.['com.android.capture.fps']
  const rate =
    noted instanceof Uint8Array && noted.byteLength >= 4
      ? new DataView(noted.buffer, noted.byteOffset, 4).getFloat32(0)
      : Number(noted ?? Number.NaN)
  return rate >= 30 && rate <= 10_000 ? Math.round(rate * 1000) / 1000 : null
}
