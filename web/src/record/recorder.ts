import {
  BufferTarget,
  getFirstEncodableVideoCodec,
  MediaStreamVideoTrackSource,
  Mp4OutputFormat,
  Output,
  QUALITY_VERY_HIGH,
  type VideoCodec,
} from 'mediabunny'

/** A recording that goes on. */
export interface Recorder {
  /** Ends it and gives the file. Rejects with a sentence for the person where nothing was recorded. */
  stop(): Promise<File>
  /** Ends it without a file. */
  cancel(): Promise<void>
}

/** In the order of how quick they are to encode: a slow one would drop frames. */
const CODECS: VideoCodec[] = ['avc', 'vp8', 'vp9', 'av1']

/**
 * Records a video track with the times of its frames, as an MP4. No frames refer to later ones, and key
 * frames stand close, so that what was recorded is quick to step through.
 */
export async function record(track: MediaStreamTrack, name: string): Promise<Recorder> {
  const { width = 1280, height = 720 } = track.getSettings()
  const codec = await getFirstEncodableVideoCodec(CODECS, { width, height })
  if (!codec)
    throw new Error('This browser can’t record video. Film with a phone or camera and choose the file.')
  const output = new Output({
    format: new Mp4OutputFormat({ fastStart: 'in-memory' }),
    target: new BufferTarget(),
  })
  const source = new MediaStreamVideoTrackSource(
    track as MediaStreamVideoTrack,
    { codec, bitrate: QUALITY_VERY_HIGH, keyFrameInterval: 0.5, latencyMode: 'realtime' },
    // The camera's own frames at their own times; an even rate would repeat some and drop others. Browsers
    // that can't hand those over are sampled at the camera's rate.
    'MediaStreamTrackProcessor' in window ? { frameRate: null } : {},
  )
  // What goes wrong on the way is told when the recording ends.
  source.errorPromise.catch(() => {})
  output.addVideoTrack(source)
  await output.start()
  return {
    stop: async () => {
      await output.finalize()
      const { buffer } = output.target as BufferTarget
      if (!buffer || buffer.byteLength === 0)
        throw new Error('Nothing was recorded: the camera gave no picture. Try once more.')
      return new File([buffer], `${name}.mp4`, { type: 'video/mp4' })
    },
    cancel: () => output.cancel(),
  }
}
