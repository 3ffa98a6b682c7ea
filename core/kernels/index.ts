/**
 * What of following takes the time, written for the compiler of WebAssembly: four numbers at once, on lists in one
 * piece of memory. Whoever calls lays the lists out and says where they are.
 */
export { colourDifference, cover, difference, enlarge, halfMean, shade } from './differences'
export { halve, shrink, toFloats } from './grids'
export { climb, lookFor, lookIn, scoresAround, weigh } from './matching'
export { close, extreme } from './morphology'
export { refine } from './refining'
export { render, smear } from './rendering'
export { refineShape } from './shapes'
export { steadiness } from './steadiness'

/** Where in memory there is room for lists. */
export const roomFrom: usize = __heap_base
