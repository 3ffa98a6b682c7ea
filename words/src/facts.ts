import { analyse } from '@apokinema/core/analysis'
import type { Sheet } from '@apokinema/core/formats'
import { relativeScaleError } from '@apokinema/core/geometry'
import { axesOf, type Investigation, inOrder } from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/scene'
import { angleMeasurement, measurement } from '@apokinema/core/units'
import { derivationText } from './derivatives.ts'

/** Returns how an investigation was calibrated, timed and derived, as pairs of a name and a value. */
export function measurementFacts(investigation: Investigation): [string, string][] {
  const { title, footage, span, references, derivation, bodies, freeFall, mainAxes } = investigation
  const { scale, length } = analyse(investigation).scene()
  const { name, tilt, tiltError } = axesOf(investigation, mainAxes)
  const clock = clockOf(investigation)
  return [
    ['title', title],
    ['footage', footage ? `${footage.name}, ${footage.width} × ${footage.height} px` : 'none'],
    ['frames', `${span.first} to ${span.last}, every ${span.every}`],
    ['frame rate', clock ? `${Number(clock.rate.toPrecision(6))} /s in real time` : 'unknown'],
    [
      'scale',
      scale
        ? `${measurement(1 / scale.metresPerPixel, relativeScaleError(scale) / scale.metresPerPixel, 'px/m')}`
        : 'none: lengths are in pixels',
    ],
    ...inOrder(references).map(([, reference]): [string, string] => [
      'reference length',
      reference.length === null
        ? `${reference.name}: not known yet`
        : `${reference.name}: ${measurement(reference.length, reference.lengthError, 'm')}`,
    ]),
    ['axes', `${name}, x axis ${angleMeasurement(tilt, tiltError)} anticlockwise from the picture’s right`],
    ['unit of length', length],
    ['derivatives', derivationText(derivation)],
    ['g', measurement(freeFall.value, freeFall.error, 'm/s²')],
    ...inOrder(bodies).map(([, body]): [string, string] => [
      'body',
      `${body.name}: ${Object.keys(body.marks).length} marks${body.mass ? `, ${measurement(body.mass.value, body.mass.error, 'kg')}` : ''}`,
    ]),
  ]
}

/**
 * Returns how an investigation was measured as a sheet of a workbook.
 *
 * @param fits a line for each fit
 */
export function factsSheet(investigation: Investigation, fits: readonly string[]): Sheet {
  return {
    name: 'How it was measured',
    rows: [...measurementFacts(investigation), ...fits.map((line) => ['fit', line])],
  }
}

/**
 * Returns the readme of an investigation in one file.
 *
 * @param entries names of its other entries
 */
export function packedReadme(
  investigation: Investigation,
  { document, footage, tables }: { document: string; footage: string | null; tables: readonly string[] },
): string {
  return [
    investigation.title,
    '',
    'An investigation of recorded motion, made with Apokinema. Choose or drop this ZIP there to open it again.',
    '',
    `${document}  calibration, marks, graphs and fits (docs/formats.md describes the format)`,
    ...(footage ? [`${footage}  the footage as it was recorded`] : []),
    ...tables.map(
      (name) => `${name}  position, velocity and everything derived from them, with standard errors`,
    ),
    '',
    ...measurementFacts(investigation).map(([what, value]) => `${what}: ${value}`),
    '',
  ].join('\r\n')
}
