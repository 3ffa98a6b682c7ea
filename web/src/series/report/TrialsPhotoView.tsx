import type { Picture } from '@apokinema/words/report/shown'
import { StillPicture } from '../../workbench/report/blocks/StillPicture.tsx'
import { useOpenSeries } from '../SeriesContext.tsx'
import { trialsPhoto } from './measuredTrials.ts'

/** All trials in one still. */
export function TrialsPhotoView({ picture, digest }: { picture: Picture; digest: string }) {
  const { analysis, titles } = useOpenSeries()
  if (picture.of !== 'motions') return null
  return <StillPicture shown={digest} make={() => trialsPhoto({ analysis, titles }, picture)} />
}
