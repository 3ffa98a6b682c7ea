import type { Picture } from '@apokinema/words/report/shown'
import { useSession } from '../../../document/SessionContext.tsx'
import { useClip } from '../../ClipContext.tsx'
import { StillPicture } from '../blocks/StillPicture.tsx'
import { reportChronophotograph } from './chronophotographs.ts'

/** All marked positions in one still. */
export function ChronoPicture({
  picture,
  digest,
}: {
  picture: Extract<Picture, { of: 'chronophotograph' }>
  digest: string
}) {
  const session = useSession()
  const { from } = useClip()
  const { every, arrows, grid } = picture
  return (
    <StillPicture
      shown={from === null ? null : digest}
      make={async () => from && reportChronophotograph(from, session.document, { every, arrows, grid })}
    />
  )
}
