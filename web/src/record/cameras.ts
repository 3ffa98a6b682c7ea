import { openPracticeCamera } from './practiceCamera.ts'

/** A camera that can be chosen. */
export interface Camera {
  id: string
  name: string
}

/** The camera that needs no device. */
export const PRACTICE_CAMERA: Camera = { id: 'practice', name: 'Practice camera (harbour crane)' }

/** Requested settings; the camera uses the nearest that it has. */
export interface Wish {
  width: number
  height: number
  rate: number
}

/** Returns true if this page may use cameras: browsers allow it on secure addresses only. */
export const camerasAllowed = () => Boolean(navigator.mediaDevices?.getUserMedia)

/** Returns all cameras, the practice camera last. Their names are known once the person has allowed one. */
export async function listCameras(): Promise<Camera[]> {
  if (!camerasAllowed()) return [PRACTICE_CAMERA]
  const devices = await navigator.mediaDevices.enumerateDevices().catch(() => [])
  const cameras = devices
    .filter(({ kind }) => kind === 'videoinput')
    .map(({ deviceId, label }, i) => ({ id: deviceId || `camera-${i}`, name: label || `Camera ${i + 1}` }))
  return [...cameras, PRACTICE_CAMERA]
}

/** Opens a camera. Rejects with a message for people. */
export async function openCamera(camera: Camera, { width, height, rate }: Wish): Promise<MediaStreamTrack> {
  if (camera.id === PRACTICE_CAMERA.id) return openPracticeCamera(rate)
  try {
    const stream = await navigator.mediaDevices.getUserMedia({
      audio: false,
      video: {
        ...(camera.id.startsWith('camera-') ? {} : { deviceId: { exact: camera.id } }),
        width: { ideal: width },
        height: { ideal: height },
        frameRate: { ideal: rate },
      },
    })
    return stream.getVideoTracks()[0]
  } catch (error) {
    throw new Error(troubleOf(error as Error))
  }
}

const PRACTISE = 'The practice camera works without one.'

/** Returns why a camera can't be used, and what to do about it. */
function troubleOf({ name, message }: Error): string {
  switch (name) {
    case 'NotAllowedError':
      return `The camera may not be used: this browser or its user has refused it. Allow it in the address bar, then choose the camera again. ${PRACTISE}`
    case 'NotFoundError':
    case 'OverconstrainedError':
      return `This camera is not there any more. Plug it in and choose it again. ${PRACTISE}`
    case 'NotReadableError':
    case 'AbortError':
      return `The camera does not answer: another program may be using it. Close that and try again. ${PRACTISE}`
    default:
      return `The camera can’t be opened (${message}). ${PRACTISE}`
  }
}
