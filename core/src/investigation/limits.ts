/** What a document may hold at most, in all its parts together or in each of them. docs/formats.md states them. */
export const LIMITS = {
  /** Frames of a clip. */
  frames: 1_000_000,
  /** Runs of frames that are equally far apart, and frames that repeat the one before. */
  runs: 200_000,
  /** Marks, second points, breaks, landmarks’ places, and points that a stretch leaves out. */
  marks: 100_000,
  /** Points of data from elsewhere. */
  overlayPoints: 100_000,
  bodies: 100,
  graphs: 200,
  /** On one graph, each: more quantities, words pinned to it, and data from elsewhere. */
  onGraph: 100,
  stretches: 500,
  fits: 500,
  /** Columns that one fit is fitted to besides its own. */
  together: 20,
  calculations: 200,
  quantities: 100,
  constants: 200,
  references: 100,
  knownMotions: 100,
  axes: 50,
  probes: 200,
  landmarks: 50,
  /** Edges that are straight in truth, for the lens. */
  edges: 50,
  captureRates: 100,
  refusals: 500,
  /** Blocks of a report, and pieces of text and characters in one of them. */
  blocks: 1000,
  inlines: 2000,
  blockCharacters: 20_000,
  tableColumns: 100,
  /** Characters of a pinned block. */
  pinnedCharacters: 1_000_000,
} as const
