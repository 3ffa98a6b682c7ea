import { framesInUse } from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/scene'
import { frameCount } from '@apokinema/core/time'
import {
  createContext,
  type ReactNode,
  useContext,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from 'react'
import { useInvestigation, useSession } from '../document/SessionContext.tsx'
import { type Clip, openInWorker, takeOpen } from '../footage/clip.ts'
import { footageSource } from '../footage/footageSource.ts'
import { useWorkbench, workbench } from './workbenchStore.ts'

/** The picture that is displayed, and its frame. */
interface Picture {
  index: number
  image: ImageBitmap
  /** False while a still is shown in its place. */
  exact: boolean
}

export interface ClipState {
  clip: Clip | null
  /** File or address of the clip, for a second decoder. */
  from: Blob | string | null
  /** Why there is no clip, for people. */
  failure: string | null
}

interface PictureState {
  picture: Picture | null
  /** Why there is no picture, for people. */
  failure: string | null
}

const ClipContext = createContext<ClipState>({ clip: null, from: null, failure: null })

/** Returns the open clip. */
export const useClip = () => useContext(ClipContext)

const never = () => () => {}

/**
 * Returns the picture of the current frame, or the previous one until it is ready. Changes with every
 * frame, so only components that draw it use this. Not a React context, which would be searched for by all descendants.
 */
export function usePicture(): PictureState {
  const { clip, failure } = useClip()
  const frame = useWorkbench((state) => state.frame)
  const pictures = clip?.pictures()
  const indexNow = () => (pictures?.get(frame) ? frame : pictures?.shown)
  // Pictures of other frames change nothing here.
  const ready = useSyncExternalStore(pictures?.subscribe ?? never, () => {
    const index = indexNow()
    return index === undefined ? undefined : pictures?.get(index)
  })
  const missing = useSyncExternalStore(pictures?.subscribe ?? never, () => pictures?.failure(frame) ?? null)
  const index = indexNow()
  const picture = useMemo(() => (ready ? { index: index!, ...ready } : null), [ready, index])
  return { picture, failure: failure ?? missing }
}

/** Opens the footage of the investigation. */
export function ClipProvider({ children }: { children: ReactNode }) {
  const session = useSession()
  const footageId = useInvestigation((now) => now.footage?.id ?? null)
  const [opened, setOpened] = useState<ClipState>({
    clip: null,
    from: null,
    failure: null,
  })

  useEffect(() => {
    if (!footageId) return
    let dropped = false
    let clip: Clip | null = null
    const open = async () => {
      const from = await footageSource(session.id, footageId)
      if (typeof from === 'string') await expectStored(from)
      clip = takeOpen(footageId) ?? (await openInWorker(from))
      if (dropped) clip.close()
      else setOpened({ clip, from, failure: null })
    }
    open().catch((error: Error) => {
      if (!dropped) setOpened({ clip: null, from: null, failure: error.message })
    })
    return () => {
      dropped = true
      clip?.close()
      workbench.setShown(null)
      setOpened({ clip: null, from: null, failure: null })
    }
  }, [session, footageId])

  return <ClipContext.Provider value={opened}>{children}</ClipContext.Provider>
}

/** Rejects with a message for people if the server does not have the footage. */
async function expectStored(address: string): Promise<void> {
  const answer = await fetch(address, { method: 'HEAD' }).catch(() => null)
  if (!answer || answer.status >= 500)
    throw new Error('The server cannot be reached, so the video is not here.')
  if (!answer.ok)
    throw new Error(
      'The video is not on the server yet: it is uploaded from the browser in which it was opened. Open this page there, or reload in a while.',
    )
}

/** Maximum number of frames requested on either side of the current one. */
const NEAR = 90

/** Memory for pictures in bytes while a body is followed, which needs much memory itself. */
const WHILE_FOLLOWING = 32 * 1024 * 1024

/**
 * Requests the picture of the current frame and of those that are likely next, for as long as it stands in the page. The requests
 * are replaced with every frame, so that scrubbing drops outdated ones and ends at the last frame.
 */
export function PicturesAhead() {
  const { clip } = useClip()
  const frame = useWorkbench((state) => state.frame)
  const { picture } = usePicture()
  const used = useInvestigation(framesInUse)
  const every = useInvestigation((now) => now.span.every)
  const pictures = clip?.pictures() ?? null
  const travel = useRef({ frame, forward: true })
  const count = clip ? frameCount(clip.facts.ticks) : 0

  useEffect(() => {
    if (!pictures) return
    if (frame !== travel.current.frame) travel.current = { frame, forward: frame > travel.current.frame }
    const along = (way: 1 | -1) => {
      const list: number[] = []
      // Within the span a step follows its frames; outside, every frame.
      for (let n = 1; n <= NEAR; n++) {
        const next = used.has(frame) ? used.step(frame, way * n) : frame + way * n
        if (next < 0 || next >= count || next === list.at(-1) || next === frame) break
        list.push(next)
      }
      return every > 1 ? [...list.slice(0, 2), frame + way, ...list.slice(2)] : list
    }
    const inside = (index: number) => index >= 0 && index < count
    const [on, back] = [along(1).filter(inside), along(-1).filter(inside)]
    if (travel.current.forward) pictures.want(frame, on, back)
    else pictures.want(frame, back, on)
  }, [pictures, frame, used, count, every])

  useEffect(() => () => pictures?.rest(), [pictures])

  const isFollowing = useWorkbench(({ mode }) => mode.kind === 'follow')
  useEffect(() => pictures?.limitTo(isFollowing ? WHILE_FOLLOWING : null), [pictures, isFollowing])

  const shown = picture?.index
  // With the picture itself: what is pressed as soon as it stands there is meant for it.
  useLayoutEffect(() => {
    if (shown === undefined) return
    pictures?.show(shown)
    workbench.setShown(shown)
  }, [pictures, shown])
  return null
}

/** Returns the clip's clock in real time; null without footage. */
export function useClock() {
  return useInvestigation(clockOf)
}
