import type { ErrorSource } from '@apokinema/core/fitting'

/** Names of the error sources, within a sentence. */
export const ERROR_SOURCES: Record<ErrorSource, string> = {
  marks: 'marks',
  scatter: 'scatter between trials',
  following: 'slow drift of following',
  placing: 'ends of the reference',
  length: 'length of the reference',
  depth: 'depth of the reference',
  disagreement: 'references that disagree',
  motion: 'known motion',
  camera: 'landmarks',
  origin: 'origin of the axes',
  tilt: 'direction of the axes',
  gravity: 'direction of gravity',
  timing: 'frame rate',
  stated: 'stated values',
}

/** How to reduce the largest error source. */
export const ERROR_ADVICE: Record<ErrorSource, string> = {
  marks: 'Biggest error source: the marks. Add marks or place them more precisely.',
  scatter: 'Biggest error source: the trials differ. Add trials, or find out what differs between them.',
  following:
    'Biggest error source: following may drift slowly on the body. Follow a smaller or a more distinct spot, or film closer.',
  placing: 'Biggest error source: the ends of the reference. Zoom in and place them again.',
  length: 'Biggest error source: the length of the reference. Measure it more precisely.',
  depth: 'Biggest error source: the depth of the reference. Use one in the plane of the motion.',
  disagreement: 'Biggest error source: the references disagree. Find out why.',
  motion: 'Biggest error source: the known motion. State it more precisely.',
  camera: 'Biggest error source: the moving camera. Add landmarks, or film with a fixed camera.',
  origin: 'Biggest error source: the origin. Zoom in and place it again.',
  tilt: 'Biggest error source: the tilt of the axes. Lay them along a longer line.',
  gravity: 'Biggest error source: the direction of gravity. Draw along a longer plumb line.',
  timing: 'Biggest error source: the frame rate.',
  stated: 'Biggest error source: stated masses and constants. State them more precisely.',
}
