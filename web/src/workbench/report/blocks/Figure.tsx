import { isPhotoData } from '@apokinema/core/investigation'
import type { Shown } from '@apokinema/words/report/shown'
import { ChronoPicture } from './ChronoPicture.tsx'
import { Drawing } from './Drawing.tsx'
import { FramePicture } from './FramePicture.tsx'
import { GraphPicture } from './GraphPicture.tsx'

/** A picture with its number and caption. */
export function Figure({ id, figure }: { id: string; figure: Extract<Shown, { kind: 'figure' }> }) {
  const { picture, width, label, caption, alternative, digest } = figure
  return (
    <figure
      className="whole"
      data-width={Math.round(100 * width)}
      ref={(element) => element?.style.setProperty('--width', `${100 * width}%`)}
    >
      <div className="picture" role="img" aria-label={alternative}>
        {picture.of === 'graph' && <GraphPicture picture={picture} width={width} digest={digest} />}
        {picture.of === 'frame' && <FramePicture frame={picture.frame} digest={digest} />}
        {picture.of === 'chronophotograph' && <ChronoPicture key={id} picture={picture} digest={digest} />}
        {picture.of === 'photo' && isPhotoData(picture.data) && <img src={picture.data} alt="" />}
        {picture.of === 'drawing' && <Drawing svg={picture.svg} />}
      </div>
      <figcaption>
        <b>{label}.</b> {caption}
      </figcaption>
    </figure>
  )
}
