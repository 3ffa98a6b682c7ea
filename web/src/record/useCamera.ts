import { useEffect, useState } from 'react'
import { type Camera, listCameras, openCamera, PRACTICE_CAMERA } from './cameras.ts'

/** Requested settings of a camera; it may provide less. */
export interface CameraSettings {
  width: number
  height: number
  /** Frames per second. */
  rate: number
}

/**
 * Opens the chosen camera while the component is mounted, and again when the settings change.
 *
 * @param onFailure is called with a sentence when a camera can't be opened, with null when one is being opened; it has to be
 *   the same function in every rendering
 * @returns the cameras of this machine, the chosen one and its track; the track is null until the camera is open and after it
 *   was taken away
 */
export function useCamera(
  { width, height, rate }: CameraSettings,
  onFailure: (failure: string | null) => void,
) {
  const [cameras, setCameras] = useState<Camera[]>([PRACTICE_CAMERA])
  const [camera, setCamera] = useState<Camera | null>(null)
  const [track, setTrack] = useState<MediaStreamTrack | null>(null)

  useEffect(() => {
    void listCameras().then((found) => {
      setCameras(found)
      // Without a device the practice camera is chosen; a real one is opened only when a person chooses it.
      if (found.length === 1) setCamera(found[0])
    })
  }, [])

  useEffect(() => {
    if (!camera) return
    let dropped = false
    let opened: MediaStreamTrack | null = null
    onFailure(null)
    openCamera(camera, { width, height, rate })
      .then(async (track) => {
        opened = track
        if (dropped) {
          track.stop()
          return
        }
        setTrack(track)
        // Names of cameras are known only after the person has allowed one.
        setCameras(await listCameras())
      })
      .catch((error: Error) => {
        if (!dropped) onFailure(error.message)
      })
    return () => {
      dropped = true
      opened?.stop()
      setTrack(null)
    }
  }, [camera, width, height, rate, onFailure])

  useEffect(() => {
    if (!track) return
    const onEnded = () => setTrack(null)
    track.addEventListener('ended', onEnded)
    return () => track.removeEventListener('ended', onEnded)
  }, [track])

  return { cameras, camera, setCamera, track }
}
