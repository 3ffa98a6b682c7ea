import { useCallback, useEffect, useRef, useState } from 'react'
import { type Recorder, record } from './recorder.ts'

const COUNTDOWN = 3

export type RecordingStage =
  | { kind: 'ready' }
  | { kind: 'counting'; left: number }
  | { kind: 'recording'; since: number }
  | { kind: 'ending' }
  | { kind: 'look'; file: File; address: string; note: string | null }

/**
 * Records a camera's track: counts down, records, and keeps the file for review. The recording ends when the track
 * ends; leaving the page cancels it.
 *
 * @param onFailure is called with a sentence; it has to be the same function in every rendering
 */
export function useRecording(track: MediaStreamTrack | null, onFailure: (failure: string) => void) {
  const recorder = useRef<Recorder | null>(null)
  const [stage, setStage] = useState<RecordingStage>({ kind: 'ready' })

  const finish = useCallback(
    async (note: string | null) => {
      const running = recorder.current
      if (!running) return
      recorder.current = null
      setStage({ kind: 'ending' })
      try {
        const file = await running.stop()
        setStage({ kind: 'look', file, address: URL.createObjectURL(file), note })
      } catch (error) {
        onFailure((error as Error).message)
        setStage({ kind: 'ready' })
      }
    },
    [onFailure],
  )

  const start = useCallback(async () => {
    if (!track) return
    try {
      const today = new Date().toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })
      recorder.current = await record(track, `Recording of ${today}`)
      setStage({ kind: 'recording', since: performance.now() })
    } catch (error) {
      onFailure((error as Error).message)
      setStage({ kind: 'ready' })
    }
  }, [track, onFailure])

  useEffect(() => {
    if (!track) return
    const onEnded = () => {
      if (recorder.current)
        void finish('The camera was unplugged or taken away. What was recorded until then is here.')
      else {
        setStage((now) => (now.kind === 'counting' ? { kind: 'ready' } : now))
        onFailure('The camera was unplugged or taken away. Choose it again once it is back.')
      }
    }
    track.addEventListener('ended', onEnded)
    return () => track.removeEventListener('ended', onEnded)
  }, [track, finish, onFailure])

  useEffect(() => {
    if (stage.kind !== 'counting') return
    const timer = setTimeout(() => {
      if (stage.left > 1) setStage({ kind: 'counting', left: stage.left - 1 })
      else void start()
    }, 1000)
    return () => clearTimeout(timer)
  }, [stage, start])

  useEffect(() => {
    if (stage.kind !== 'look') return
    return () => URL.revokeObjectURL(stage.address)
  }, [stage])
  // Leaving the page cancels a recording.
  useEffect(() => () => void recorder.current?.cancel().catch(() => {}), [])

  return {
    stage,
    countDown: useCallback(() => setStage({ kind: 'counting', left: COUNTDOWN }), []),
    stop: useCallback(() => void finish(null), [finish]),
    /** Returns to the live picture, from a countdown or from the recorded clip. */
    toLive: useCallback(() => setStage({ kind: 'ready' }), []),
  }
}
