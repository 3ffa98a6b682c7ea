import { analyse } from '@apokinema/core/analysis'
import { relativeScaleError } from '@apokinema/core/geometry'
import { axesOf, framesInUse, type Investigation, inOrder } from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/scene'
import { angleMeasurement, fixed, measurement, significant, withUnit } from '@apokinema/core/units'
import { derivationText } from '../derivatives.ts'

function footageText(investigation: Investigation): string {
  const { footage, span } = investigation
  const clock = clockOf(investigation)
  if (!footage || !clock) return 'No footage has been chosen yet.'
  const slow = Math.abs(clock.rate / clock.playback.rate - 1) > 0.01
  const rate = `The clip ${footage.name} (${footage.width} × ${footage.height} px) was recorded at ${withUnit(fixed(clock.rate, 1), 'frames per second')}${slow ? ` and plays at ${fixed(clock.playback.rate, 1)}` : ''}.`
  const which = span.every === 1 ? 'Every frame' : `Every ${ordinal(span.every)} frame`
  return `${rate} ${which} from ${span.first} to ${span.last} was used, ${framesInUse(investigation).list.length} in all.`
}

function ordinal(count: number): string {
  const last = count % 100 > 10 && count % 100 < 14 ? 0 : count % 10
  return `${count}${['th', 'st', 'nd', 'rd'][last] ?? 'th'}`
}

function scaleText(investigation: Investigation): string {
  const { scale } = analyse(investigation).scene()
  if (!scale) return 'Lengths are in pixels: no scale has been set.'
  const lengths = inOrder(investigation.references).flatMap(([, { use, name, length, lengthError }]) =>
    use === 'scale' && length !== null ? [`${name} of ${measurement(length, lengthError, 'm')}`] : [],
  )
  const value = 1 / scale.metresPerPixel
  const size = measurement(value, value * relativeScaleError(scale), 'px/m')
  if (lengths.length === 0) return `The scale is ${size}.`
  return `The scale of ${size} comes from a reference length: ${lengths.join('; ')}.`
}

function axesText(investigation: Investigation): string {
  const { placed, tilt, tiltError, origin } = axesOf(investigation)
  if (!placed) return 'The axes have not been placed.'
  const turned =
    Math.abs(tilt) < 1e-9 && !(tiltError > 0)
      ? 'The x axis is horizontal in the picture.'
      : `The x axis is turned by ${angleMeasurement(tilt, tiltError)} in the picture.`
  return `The origin lies at (${significant(origin.x, 4)}, ${significant(origin.y, 4)}) px. ${turned}`
}

function marksText({ bodies }: Investigation): string {
  return inOrder(bodies)
    .map(([, { name, marks }]) => {
      const all = Object.values(marks)
      const followed = all.filter(({ by }) => by === 'follow').length
      const how =
        followed === 0
          ? 'by hand'
          : followed === all.length
            ? 'by automatic following'
            : `${all.length - followed} by hand and ${followed} by automatic following`
      return `${name} was marked in ${all.length === 1 ? '1 frame' : `${all.length} frames`}, ${how}.`
    })
    .join(' ')
}

/** Returns the paragraph on how an investigation was measured, written from its facts. */
export function methodText(investigation: Investigation): string {
  return [
    footageText(investigation),
    scaleText(investigation),
    axesText(investigation),
    marksText(investigation),
    derivationText(investigation.derivation),
  ]
    .filter((sentence) => sentence !== '')
    .join(' ')
}
