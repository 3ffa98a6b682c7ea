/** Conjugate of the golden ratio: its multiples, less their whole parts, come close to no period. */
const GOLDEN = (Math.sqrt(5) - 1) / 2

/**
 * Place within the part of number `part`, 0 … 1, if one thing is taken from each of many equal parts and they are to keep no
 * time with anything that repeats.
 */
export const aperiodicPlace = (part: number): number => (part * GOLDEN) % 1
