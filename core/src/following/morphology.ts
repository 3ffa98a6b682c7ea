/**
 * Grey-scale morphology with square neighbourhoods (Serra, Image Analysis and Mathematical Morphology, 1982). Values that
 * are NaN do not count.
 */

/** The largest value within `half` pixels of each; 0 if none is known. Row by row, length `width` × `height`. */
export const dilated = (data: Float32Array, width: number, height: number, half: number): Float32Array =>
  extreme(data, width, height, half, true)

/** The smallest value within `half` pixels of each; 0 if none is known. Row by row, length `width` × `height`. */
export const eroded = (data: Float32Array, width: number, height: number, half: number): Float32Array =>
  extreme(data, width, height, half, false)

function extreme(data: Float32Array, width: number, height: number, half: number, isLargest: boolean) {
  if (half === 0) return data.map((value) => (Number.isNaN(value) ? 0 : value))
  const sign = isLargest ? 1 : -1
  const lowest = Number.NEGATIVE_INFINITY
  const signed = data.map((value) => (Number.isNaN(value) ? lowest : sign * value))
  largestAlong(signed, half, width, height, 1, width)
  largestAlong(signed, half, height, width, width, 1)
  return signed.map((value) => (value === lowest ? 0 : sign * value))
}

/**
 * Replaces each value along lines of a grid by the largest within `half` of it, in place, with three comparisons each
 * whatever `half` is (van Herk, Pattern Recognition Letters 13 (1992) 517; Gil and Werman, IEEE PAMI 15 (1993) 504).
 */
function largestAlong(
  data: Float32Array,
  half: number,
  length: number,
  lines: number,
  step: number,
  lineStep: number,
): void {
  const window = 2 * half + 1
  const padded = length + 2 * half
  // Largest value from the beginning of each value's block to it, and from it to the end of the block.
  const forwards = new Float32Array(padded)
  const backwards = new Float32Array(padded)
  for (let line = 0; line < lines; line++) {
    const from = line * lineStep
    const at = (i: number) =>
      i < half || i >= length + half ? Number.NEGATIVE_INFINITY : data[from + (i - half) * step]
    for (let i = 0; i < padded; i++) forwards[i] = i % window === 0 ? at(i) : Math.max(forwards[i - 1], at(i))
    for (let i = padded - 1; i >= 0; i--)
      backwards[i] = i === padded - 1 || i % window === window - 1 ? at(i) : Math.max(backwards[i + 1], at(i))
    for (let i = 0; i < length; i++) data[from + i * step] = Math.max(backwards[i], forwards[i + window - 1])
  }
}
