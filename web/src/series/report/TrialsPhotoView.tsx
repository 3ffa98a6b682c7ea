import type { Picture } from '@apokinema/words/report/shown'
import { StillPicture } from '../../workbench/report/blocks/StillPicture.tsx'
import { useSeriesAnalysis } from '../SeriesContext.tsx'
import { trialsPhoto } from './measuredTrials.ts'

/** All trials in one still. */
export function TrialsPhotoView({ picture, digest }: { picture: Picture; digest: string }) {
  const analysis = useSeriesAnalysis()
  if (picture.of !== 'motions') return null
  return <StillPicture shown={digest} make={() => trialsPhoto(analysis, picture)} />
}
