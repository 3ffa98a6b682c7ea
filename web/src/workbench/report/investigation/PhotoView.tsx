import type { Picture } from '@apokinema/words/report/shown'
import { ChronoPicture } from './ChronoPicture.tsx'
import { FramePicture } from './FramePicture.tsx'

/** A picture that is made of the footage's frames. */
export function PhotoView({ picture, digest }: { picture: Picture; digest: string }) {
  switch (picture.of) {
    case 'frame':
      return <FramePicture frame={picture.frame} digest={digest} />
    case 'chronophotograph':
      return <ChronoPicture picture={picture} digest={digest} />
    default:
      return null
  }
}
