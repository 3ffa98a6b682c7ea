import { nearestFrame } from '@apokinema/core/time'
import * as Comlink from 'comlink'
import { VideoSampleSink } from 'mediabunny'
import { type ClipFacts, type OpenClip, openClip } from './facts.ts'

/** A decoded frame in transfer to another thread. */
export interface ReadFrame {
  index: number
  frame: VideoFrame
}

let clip: OpenClip | null = null
const runs = new Map<number, AsyncGenerator<ReadFrame, void, unknown>>()

function opened(): OpenClip {
  if (!clip) throw new Error('No clip is open.')
  return clip
}

/** Frames at least this far apart are decoded one by one instead of in one pass. */
const SPARSE = 2

/** Returns true if an error says that the film can't be decoded there, and not, for example, that the server is unreachable. */
const isUndecodable = (fault: unknown) => fault instanceof DOMException

/**
 * Decodes frames, given by increasing indices; ends before the first that can't be decoded.
 * On an error the decoder also drops the frames that it has ready: it restarts after the last requested one, or
 * fetches single frames, until the one that can't be decoded is reached.
 */
async function* decoded(frames: number[]): AsyncGenerator<ReadFrame, void, unknown> {
  const { track, seconds } = opened()
  const sink = new VideoSampleSink(track)
  const last = frames[frames.length - 1]
  if (frames.length * SPARSE < last - frames[0]) {
    yield* decodedApart(sink, frames)
    return
  }
  for (let left = frames; left.length > 0; ) {
    const wanted = new Set(left)
    let done = -1
    try {
      for await (const sample of sink.samples(seconds[left[0]] + 1e-6)) {
        const index = nearestFrame(seconds, sample.timestamp)
        const frame = wanted.has(index) ? sample.toVideoFrame() : null
        sample.close()
        if (frame) {
          done = index
          yield { index, frame }
        }
        if (index >= last) return
      }
      return
    } catch (fault) {
      if (!isUndecodable(fault)) throw fault
      if (done < 0) {
        const read = await single(left[0])
        if (!read) return
        done = read.index
        yield read
      }
      left = left.filter((index) => index > done)
    }
  }
}

/** Decodes frames that are far apart: each group of pictures that contains one is decoded once, the others not at all. */
async function* decodedApart(
  sink: VideoSampleSink,
  frames: number[],
): AsyncGenerator<ReadFrame, void, unknown> {
  const { seconds } = opened()
  const times = frames.map((index) => seconds[index] + 1e-6)
  let next = 0
  try {
    for await (const sample of sink.samplesAtTimestamps(times)) {
      const index = frames[next++]
      const isIt = sample !== null && nearestFrame(seconds, sample.timestamp) === index
      const frame = isIt ? sample.toVideoFrame() : null
      sample?.close()
      if (!frame) return
      yield { index, frame }
    }
  } catch (fault) {
    if (!isUndecodable(fault)) throw fault
  }
}

/** Returns one frame; null if it can't be decoded. */
async function single(index: number): Promise<ReadFrame | null> {
  const { track, seconds } = opened()
  try {
    const sample = await new VideoSampleSink(track).getSample(seconds[index] + 1e-6)
    // If the frame itself is missing, the decoder returns the one after it.
    const frame = sample && nearestFrame(seconds, sample.timestamp) === index ? sample.toVideoFrame() : null
    sample?.close()
    return frame && { index, frame }
  } catch (fault) {
    if (!isUndecodable(fault)) throw fault
    return null
  }
}

const handOver = (read: ReadFrame) => Comlink.transfer(read, [read.frame])

/**
 * Decodes frames for another thread that processes them: a decoder makes progress only while its own thread is
 * idle.
 */
const reader = {
  /** Opens a clip; returns its facts and the time of every frame. */
  async open(from: Blob | string): Promise<{ facts: ClipFacts; seconds: Float64Array }> {
    clip = await openClip(from)
    return { facts: clip.facts, seconds: clip.seconds }
  },

  /** Begins a run through frames, given by increasing indices, under a number. */
  begin(run: number, frames: number[]): void {
    runs.set(run, decoded(frames))
  },

  /** Returns the next frame of a run; null after the last one. */
  async next(run: number): Promise<ReadFrame | null> {
    const { value } = (await runs.get(run)?.next()) ?? {}
    return value ? handOver(value) : null
  },

  async end(run: number): Promise<void> {
    const ended = runs.get(run)
    runs.delete(run)
    await ended?.return()
  },

  /** Returns one frame; null if it can't be decoded. */
  async single(index: number): Promise<ReadFrame | null> {
    const read = await single(index)
    return read && handOver(read)
  },
}

export type Reader = typeof reader

Comlink.expose(reader)
