import {
  BufferTarget,
  getFirstEncodableVideoCodec,
  MediaStreamVideoTrackSource,
  Mp4OutputFormat,
  Output,
  QUALITY_VERY_HIGH,
  type VideoCodec,
} from 'mediabunny'

/** A running recording. */
export interface Recorder {
  /** Ends it and returns the file. Rejects with a message for people if nothing was recorded. */
  stop(): Promise<File>
  /** Cancels it. */
  cancel(): Promise<void>
}

/** In the order of encoding speed: a slow codec would drop frames. */
const CODECS: VideoCodec[] = ['avc', 'vp8', 'vp9', 'av1']

/**
 * Records a video track with the times of its frames, as an MP4. No frame refers to a later one, and key
 * frames are close together, so that stepping through the recording is fast.
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
    // The camera's own frames with their times; a constant rate would repeat some and drop others. Browsers
    // that can't provide them are sampled at the camera's rate.
    'MediaStreamTrackProcessor' in window ? { frameRate: null } : {},
  )
  // Errors on the way are reported when the recording ends.
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
