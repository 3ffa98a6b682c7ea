import { type ChildProcess, spawn } from 'node:child_process'
import { dirname } from 'node:path'
import { createInterface } from 'node:readline'
import { CONVERTER_ACCOUNT } from './converterAccount.ts'

/** A conversion that cannot be done. */
export class ConversionError extends Error {
  /**
   * @param message what is wrong with the file and what to do, for people
   * @param technical output of the tool
   */
  constructor(
    message: string,
    readonly technical = '',
  ) {
    super(message)
  }
}

/** Containers that are read. Playlists, which name other files, are deliberately not among them. */
const FORMATS =
  'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,asf,mpegts,mpeg,mpegvideo,flv,ogg,gif,mjpeg,dv,mxf,image2,png_pipe,jpeg_pipe'
/** Input comes from local files only: nothing in a file can make the tool open an address. */
const GUARDED = ['-protocol_whitelist', 'file', '-format_whitelist', FORMATS]

/** Properties of a file before its conversion. */
export interface Source {
  width: number
  height: number
  /** Ticks of the container: numerator over denominator of a second. */
  timeBase: [number, number]
  /** Duration in seconds; null if the file does not state it. */
  duration: number | null
  /** Approximate number of frames; null if the file does not state it. */
  frames: number | null
  interlaced: boolean
  /** Transfer curve of high dynamic range; null for standard range. */
  highRange: 'smpte2084' | 'arib-std-b67' | null
  /** Index of the video stream in the file. */
  stream: number
  notedCaptureRate: string | null
}

/** Largest picture side that is converted; beyond it browsers can't decode H.264. */
const MOST_SIDE = 8192
/** Maximum number of pixels of a frame: H.264 level 6.2, ITU-T H.264, table A-1. */
const MOST_PIXELS = 139_264 * 256
/** Maximum number of pixels of all frames together: about an hour on two cores. */
const MOST_PIXELS_IN_ALL = 2e11
/** Limit of private memory in bytes (RLIMIT_DATA). The largest frame reserves 1.1 GB, of which it uses two thirds. */
const MOST_MEMORY = 1_200_000_000
/** Pixels per frame above which memory use is minimised at the expense of speed. 4K has 8.3 million. */
const LARGE = 4_000_000

interface ProbedStream {
  index: number
  codec_type: string
  codec_name?: string
  width?: number
  height?: number
  time_base: string
  duration?: string
  nb_frames?: string
  avg_frame_rate?: string
  field_order?: string
  color_transfer?: string
  tags?: Record<string, string>
  disposition?: { attached_pic?: number }
}

/** Returns true if both tools are installed. */
export async function hasFfmpeg(): Promise<boolean> {
  const answers = ['ffmpeg', 'ffprobe'].map(
    (tool) =>
      new Promise<boolean>((resolve) => {
        const child = spawn(tool, ['-version'], { stdio: 'ignore' })
        child.once('error', () => resolve(false))
        child.once('exit', (code) => resolve(code === 0))
      }),
  )
  return (await Promise.all(answers)).every(Boolean)
}

/** Reads the properties of a file. Throws a ConversionError if it has no video that can be converted. */
export async function probe(path: string, signal: AbortSignal): Promise<Source> {
  const { code, output, errors } = await runProbe(
    [...'-v error -print_format json -show_format -show_streams'.split(' '), ...GUARDED],
    path,
    signal,
  )
  if (code !== 0)
    throw new ConversionError(
      'This file is damaged, cut off, or not a video. Copy it from the camera once more, or save it again as MP4.',
      errors,
    )
  const { streams = [], format = {} } = JSON.parse(output) as {
    streams?: ProbedStream[]
    format?: { duration?: string; tags?: Record<string, string> }
  }
  const stream = streams.find(
    ({ codec_type, disposition }) => codec_type === 'video' && !disposition?.attached_pic,
  )
  if (!stream)
    throw new ConversionError(
      streams.length > 0
        ? 'There is no picture in this file, only sound. Choose another one.'
        : 'There is no video in this file. Choose another one.',
    )
  const { width = 0, height = 0 } = stream
  if (!(width > 0 && height > 0))
    throw new ConversionError(
      'This file does not say how large its picture is: it is damaged or cut off.',
      errors,
    )
  checkSize({ width, height })
  const [numerator, denominator] = stream.time_base.split('/').map(Number)
  const duration = Number(format.duration ?? stream.duration)
  const transfer = stream.color_transfer
  return {
    width,
    height,
    timeBase: numerator > 0 && denominator > 0 ? [numerator, denominator] : [1, 90_000],
    duration: duration > 0 ? duration : null,
    frames: framesOf(stream, duration),
    interlaced: ['tt', 'bb', 'tb', 'bt'].includes(stream.field_order ?? ''),
    highRange: transfer === 'smpte2084' || transfer === 'arib-std-b67' ? transfer : null,
    stream: stream.index,
    notedCaptureRate: format.tags?.['com.android.capture.fps'] ?? null,
  }
}

/** Throws a ConversionError if frames are larger than browsers can show. */
export function checkSize({ width, height }: { width: number; height: number }): void {
  if (Math.max(width, height) > MOST_SIDE)
    throw new ConversionError(
      `Its picture is ${width} × ${height} px; at most ${MOST_SIDE} px along a side can be shown. Save it smaller and try again.`,
    )
  if (width * height > MOST_PIXELS)
    throw new ConversionError(
      `Its picture is ${width} × ${height} px, more than the ${Math.floor(MOST_PIXELS / 1e6)} million pixels that can be shown. Save it smaller and try again.`,
    )
}

function framesOf({ nb_frames, avg_frame_rate }: ProbedStream, duration: number): number | null {
  const [numerator, denominator] = (avg_frame_rate ?? '0/1').split('/').map(Number)
  const frames = Math.max(Number(nb_frames ?? 0), (duration * numerator) / denominator || 0)
  return frames > 0 && frames < Number.POSITIVE_INFINITY ? Math.round(frames) : null
}

/** Returns true if frames are so large that only one such conversion may run at a time. */
export const isLarge = ({ width, height }: Pick<Source, 'width' | 'height'>) => width * height > LARGE

/** Throws a ConversionError if a conversion would take too long. */
export function checkAmount({ width, height, frames }: Pick<Source, 'width' | 'height' | 'frames'>): void {
  const most = Math.floor(MOST_PIXELS_IN_ALL / (width * height))
  if (frames !== null && frames > most)
    throw new ConversionError(
      `It has about ${frames} frames of ${width} × ${height} px; of this size at most ${most} can be converted. Cut it to the motion, or save it smaller, and try again.`,
    )
}

/**
 * Starts ffmpeg or ffprobe on untrusted input: unprivileged, with limited memory and a minimal environment.
 *
 * @param stop          kills the process
 * @param mostFileBytes maximum size of a file that it writes
 */
function startTool(
  tool: 'ffmpeg' | 'ffprobe',
  args: string[],
  stop: AbortSignal,
  mostFileBytes = 0,
): ChildProcess {
  const limits = [`--data=${MOST_MEMORY}`, '--core=0', `--fsize=${mostFileBytes}`]
  const child = spawn('prlimit', [...limits, 'nice', '-n', '5', tool, ...args], {
    stdio: ['ignore', 'pipe', 'pipe'],
    cwd: '/',
    env: { PATH: process.env.PATH, LC_ALL: 'C.UTF-8' },
    ...CONVERTER_ACCOUNT,
  })
  const kill = () => child.kill('SIGKILL')
  stop.addEventListener('abort', kill)
  child.once('close', () => stop.removeEventListener('abort', kill))
  if (stop.aborted) kill()
  return child
}

/** Input of a conversion: a video, or numbered stills of one kind at a rate. */
export type Input =
  | { kind: 'video'; path: string; source: Source }
  | { kind: 'stills'; pattern: string; rate: [number, number]; source: Source }

const pathIn = (input: Input) => (input.kind === 'video' ? input.path : input.pattern)

/** Returns the arguments that make an H.264 file with the input's frames and ticks. */
function conversionArguments(input: Input, output: string): string[] {
  const { source } = input
  const [numerator, denominator] = input.kind === 'stills' ? [input.rate[1], input.rate[0]] : source.timeBase
  // Two fields per frame: their times lie halfway between the frames' ticks.
  const ticks = denominator * (source.interlaced ? 2 : 1)
  const filters = [
    ...(source.interlaced ? ['bwdif=mode=send_field:parity=auto:deint=all'] : []),
    ...(source.highRange ? toNormalRange(source.highRange) : []),
    // Square pixels, then an even number of them, which the colour format needs.
    'scale=trunc(iw*sar+0.5):ih:flags=lanczos',
    'setsar=1',
    'pad=ceil(iw/2)*2:ceil(ih/2)*2',
    'format=yuv420p',
  ]
  return [
    ...'-hide_banner -nostdin -loglevel error -y -progress pipe:1 -nostats'.split(' '),
    ...(isLarge(source) ? ['-threads', '1'] : []),
    ...GUARDED,
    ...(input.kind === 'stills'
      ? [
          '-f',
          'image2',
          '-framerate',
          input.rate.join('/'),
          '-start_number',
          '1',
          '-i',
          input.pattern,
          '-map',
          '0:v:0',
        ]
      : ['-i', input.path, '-map', `0:${source.stream}`]),
    ...['-vf', filters.join(',')],
    // Every frame at its own tick: none is added, dropped or moved.
    ...[
      '-fps_mode',
      'passthrough',
      '-enc_time_base',
      `${numerator}:${ticks}`,
      '-video_track_timescale',
      String(ticks),
    ],
    // No frames that refer to later ones: file order is time order, and seeking is cheap.
    ...'-c:v libx264 -preset veryfast -crf 17 -g 30 -bf 0 -an -sn -dn'.split(' '),
    // No lookahead: it would hold frames in memory, two thirds of all it takes.
    ...['-x264-params', 'rc-lookahead=0:sync-lookahead=0:mbtree=0:sliced-threads=1'],
    ...['-map_metadata', '-1', '-movflags', '+faststart+use_metadata_tags'],
    ...(source.notedCaptureRate ? ['-metadata', `com.android.capture.fps=${source.notedCaptureRate}`] : []),
    ...['-f', 'mp4', output],
  ]
}

/** Returns a picture of high dynamic range mapped to the normal one (Hable's curve). */
function toNormalRange(transfer: string): string[] {
  return [
    `zscale=tin=${transfer}:min=bt2020nc:pin=bt2020:t=linear:npl=203`,
    'format=gbrpf32le',
    'zscale=p=bt709',
    'tonemap=hable:desat=0',
    'zscale=t=bt709:m=bt709:r=tv',
  ]
}

export interface Limits {
  seconds: number
  outputBytes: number
}

/**
 * Runs a conversion. Throws a ConversionError with a message for people if it fails or exceeds a limit, and
 * the signal's reason where it is aborted.
 *
 * @param onProgress is called with the seconds of film that are done
 */
export async function convert(
  input: Input,
  output: string,
  limits: Limits,
  signal: AbortSignal,
  onProgress: (seconds: number) => void,
): Promise<void> {
  signal.throwIfAborted()
  const tooLong = AbortSignal.timeout(limits.seconds * 1000)
  const tooLarge = new AbortController()
  const stop = AbortSignal.any([signal, tooLong, tooLarge.signal])
  const child = startTool('ffmpeg', conversionArguments(input, output), stop, limits.outputBytes)
  createInterface({ input: child.stdout! }).on('line', (line) => {
    const [name, value] = line.split('=')
    if (name === 'out_time_us' && Number(value) > 0) onProgress(Number(value) / 1e6)
    if (name === 'total_size' && Number(value) > limits.outputBytes) tooLarge.abort()
  })
  const { code, errors } = await ended(child, [output, pathIn(input)])
  signal.throwIfAborted()
  if (tooLong.aborted)
    throw new ConversionError(
      `Converting took longer than ${Math.round(limits.seconds / 60)} minutes and was stopped. Cut the video to the motion and try again.`,
      errors,
    )
  if (tooLarge.signal.aborted || child.signalCode === 'SIGXFSZ')
    throw new ConversionError(
      'The converted video would be too large and was stopped. Cut the video to the motion and try again.',
      errors,
    )
  if (code === null)
    throw new ConversionError(
      'The conversion was ended from outside before it was done. Try it again.',
      errors,
    )
  if (code !== 0) throw new ConversionError(failureOf(errors), errors)
}

function failureOf(errors: string): string {
  if (/No space left/i.test(errors)) return 'The disk of the server is full. Make room on it, then try again.'
  if (/Cannot allocate memory/i.test(errors))
    return 'Its picture takes more memory than the server gives to one conversion. Save it smaller and try again.'
  return 'This file can’t be converted: it is damaged, or in a form that is not known here. Save it again as MP4 (H.264).'
}

/** Reads the output of a tool, up to a size that no valid file causes. */
const MOST_TEXT = 4_000_000

async function runProbe(args: string[], path: string, signal: AbortSignal) {
  const stop = AbortSignal.any([signal, AbortSignal.timeout(60_000)])
  const child = startTool('ffprobe', [...args, path], stop)
  let output = ''
  child.stdout!.setEncoding('utf8').on('data', (part: string) => {
    if (output.length < MOST_TEXT) output += part
  })
  const { code, errors } = await ended(child, [path])
  signal.throwIfAborted()
  return { code, output, errors }
}

/**
 * Waits for the end of a tool; returns its exit code (null: killed) and its last error messages.
 *
 * @param paths of its files, whose folders are removed from the messages
 */
function ended(child: ChildProcess, paths: string[]): Promise<{ code: number | null; errors: string }> {
  let errors = ''
  child.stderr!.setEncoding('utf8').on('data', (part: string) => {
    errors = (errors + part).slice(-4000)
  })
  return new Promise((resolve) => {
    child.once('error', (error) => resolve({ code: -1, errors: `${errors}\n${error.message}` }))
    child.once('close', (code) => resolve({ code, errors: withoutFolders(errors.trim(), paths) }))
  })
}

/** Removes the folders of `paths` from a tool's messages. */
const withoutFolders = (text: string, paths: string[]) =>
  paths.reduce((rest, path) => rest.replaceAll(`${dirname(path)}/`, ''), text)
