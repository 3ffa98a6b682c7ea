import type { Picture } from '@apokinema/words/report/shown'
import { useEffect, useState } from 'react'
import { useSession } from '../../../document/SessionContext.tsx'
import { useClip } from '../../ClipContext.tsx'
import { reportChronophotograph } from './chronophotographs.ts'
import { useSeen } from './useSeen.ts'

/** All marked positions in one still, made from the footage when it comes into view. */
export function ChronoPicture({
  picture,
  digest,
}: {
  picture: Extract<Picture, { of: 'chronophotograph' }>
  digest: string
}) {
  const session = useSession()
  const { from } = useClip()
  const [place, isSeen] = useSeen()
  const [made, setMade] = useState<{ address: string } | { why: string } | null>(null)
  const { every, arrows, grid } = picture
  // biome-ignore lint/correctness/useExhaustiveDependencies: the digest says when the picture shows something else
  useEffect(() => {
    if (!isSeen || from === null) return
    let address: string | null = null
    let isLatest = true
    void reportChronophotograph(from, session.document, { every, arrows, grid }).then((found) => {
      if (found === null) return
      if (!isLatest) return
      if (typeof found === 'string') {
        setMade({ why: found })
        return
      }
      address = URL.createObjectURL(found)
      setMade({ address })
    })
    return () => {
      isLatest = false
      if (address) URL.revokeObjectURL(address)
    }
  }, [session, isSeen, from, every, arrows, grid, digest])
  return (
    <div ref={place} className="chrono">
      {made === null && <p className="note">Making the picture …</p>}
      {made && 'why' in made && <p className="gone">{made.why}</p>}
      {made && 'address' in made && <img src={made.address} alt="" />}
    </div>
  )
}
