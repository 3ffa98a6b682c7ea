import { API } from '@apokinema/core/api'
import type { Footage } from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/motion'
import { createContext, type ReactNode, useContext, useEffect, useMemo, useRef, useState } from 'react'
import { useInvestigation, useSession } from '../document/SessionContext.tsx'
import { waitingFiles } from '../document/shelf.ts'
import { type Clip, openInWorker } from '../footage/clip.ts'
import { useWorkbench, workbench } from './workbenchStore.ts'

/** A picture that is on show, and the frame that it is. */
export interface Picture {
  index: number
  image: VideoFrame
}

interface ClipState {
  clip: Clip | null
  /** Where the clip was opened from, for a second decoder. */
  from: Blob | string | null
  /** Why there is no clip, for the person. */
  trouble: string | null
}

interface PictureState {
  picture: Picture | null
  /** Why there is no picture, for the person. */
  trouble: string | null
}

const ClipContext = createContext<ClipState>({ clip: null, from: null, trouble: null })
const PictureContext = createContext<PictureState>({ picture: null, trouble: null })

/** The clip that is open; changes when another one is. */
export const useClip = () => useContext(ClipContext)

/** The picture on show; changes with every frame, so only what draws it should ask. */
export const usePicture = () => useContext(PictureContext)

/** Opens the footage of the investigation and keeps the picture of the current frame at hand. */
export function ClipProvider({ children }: { children: ReactNode }) {
  const session = useSession()
  const footageId = useInvestigation().footage?.id ?? null
  const [opened, setOpened] = useState<ClipState>({
    clip: null,
    from: null,
    trouble: null,
  })

  useEffect(() => {
    if (!footageId) return
    let dropped = false
    let clip: Clip | null = null
    const open = async () => {
      const local = await waitingFiles.get(session.id)
      const from = local?.footage.id === footageId ? local.file : API.footage(session.id, footageId)
      if (typeof from === 'string') await expectStored(from)
      clip = await openInWorker(from)
      if (dropped) clip.close()
      else setOpened({ clip, from, trouble: null })
    }
    open().catch((error: Error) => {
      if (!dropped) setOpened({ clip: null, from: null, trouble: error.message })
    })
    return () => {
      dropped = true
      clip?.close()
      setOpened({ clip: null, from: null, trouble: null })
    }
  }, [session, footageId])

  const shown = useCurrentPicture(opened.clip)
  const pictured = useMemo(
    () => ({ picture: shown.picture, trouble: opened.trouble ?? shown.trouble }),
    [shown.picture, shown.trouble, opened.trouble],
  )
  return (
    <ClipContext.Provider value={opened}>
      <PictureContext.Provider value={pictured}>{children}</PictureContext.Provider>
    </ClipContext.Provider>
  )
}

/** Rejects with a sentence for the person where the server does not have the footage. */
async function expectStored(address: string): Promise<void> {
  const answer = await fetch(address, { method: 'HEAD' }).catch(() => null)
  if (!answer || answer.status >= 500)
    throw new Error('The server cannot be reached, so the video is not here.')
  if (!answer.ok)
    throw new Error(
      'The video is not on the server yet: it is uploaded from the browser in which it was opened. Open this page there, or reload in a while.',
    )
}

/**
 * The picture of the current frame. One request is under way at a time and then the latest wanted frame
 * is asked for, so that scrubbing drops what is stale and always ends on what was asked last.
 */
function useCurrentPicture(clip: Clip | null): PictureState {
  const frame = useWorkbench((state) => state.frame)
  const [picture, setPicture] = useState<Picture | null>(null)
  const [trouble, setTrouble] = useState<string | null>(null)
  const wanted = useRef(frame)
  const busy = useRef<Clip | null>(null)
  wanted.current = frame

  // biome-ignore lint/correctness/useExhaustiveDependencies: a new frame is what starts a new request
  useEffect(() => {
    if (!clip || busy.current === clip) return
    busy.current = clip
    const run = async () => {
      let shown = -1
      while (shown !== wanted.current && busy.current === clip) {
        const index = wanted.current
        try {
          const image = await clip.decoder.frame(index)
          if (busy.current === clip) {
            setPicture({ index, image })
            workbench.setShown(index)
          } else image.close()
          setTrouble(null)
        } catch (error) {
          setTrouble((error as Error).message)
        }
        shown = index
      }
      if (busy.current === clip) busy.current = null
    }
    void run()
  }, [clip, frame])

  useEffect(
    () => () => {
      if (clip && busy.current === clip) busy.current = null
    },
    [clip],
  )

  // The picture before is given back once the next one is on show.
  useEffect(() => () => picture?.image.close(), [picture])
  return { picture: clip ? picture : null, trouble }
}

/** The clip's clock with time zero at the span's first frame; null without footage. */
export function useClock() {
  const { footage, span } = useInvestigation()
  return useMemo(() => (footage ? clockOf(footage as Footage, span.first) : null), [footage, span.first])
}
