import { isPhotoData } from '@apokinema/core/investigation'
import type { Shown } from '@apokinema/words/report/shown'
import { useSource } from '../source.ts'
import { Drawing } from './Drawing.tsx'
import { PlotPicture } from './PlotPicture.tsx'
import { isPlot } from './withDrawing.ts'

/** A picture with its number and caption. */
export function Figure({ id, figure }: { id: string; figure: Extract<Shown, { kind: 'figure' }> }) {
  const { PhotoView } = useSource()
  const { picture, width, label, caption, alternative, digest } = figure
  return (
    <figure
      className="whole"
      data-width={Math.round(100 * width)}
      ref={(element) => element?.style.setProperty('--width', `${100 * width}%`)}
    >
      <div className="picture" role="img" aria-label={alternative}>
        {picture.of === 'photo' ? (
          isPhotoData(picture.data) && <img src={picture.data} alt="" />
        ) : picture.of === 'drawing' ? (
          <Drawing svg={picture.svg} />
        ) : isPlot(picture) ? (
          <PlotPicture picture={picture} width={width} digest={digest} />
        ) : (
          <PhotoView key={id} picture={picture} digest={digest} />
        )}
      </div>
      <figcaption>
        <b>{label}.</b> {caption}
      </figcaption>
    </figure>
  )
}
