import { useEffect, useState } from 'react'
import { useSeen } from './useSeen.ts'

/**
 * A picture that takes a while, made when it comes into view.
 *
 * @param shown says when the picture shows something else; null: it can't be made yet
 * @param make returns the picture, or why it can't be made; null: there is nothing to show
 */
export function StillPicture({
  shown,
  make,
}: {
  shown: string | null
  make: () => Promise<Blob | string | null>
}) {
  const [place, isSeen] = useSeen()
  const [made, setMade] = useState<{ address: string } | { why: string } | null>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is shown says when to make it anew
  useEffect(() => {
    if (!isSeen || shown === null) return
    let address: string | null = null
    let isLatest = true
    void make().then((found) => {
      if (found === null || !isLatest) return
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
  }, [isSeen, shown])
  return (
    <div ref={place} className="chrono">
      {made === null && <p className="note">Making the picture …</p>}
      {made && 'why' in made && <p className="gone">{made.why}</p>}
      {made && 'address' in made && <img src={made.address} alt="" />}
    </div>
  )
}
