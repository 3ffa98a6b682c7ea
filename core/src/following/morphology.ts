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
  const signed = new Float32Array(data.length)
  for (let i = 0; i < data.length; i++) signed[i] = Number.isNaN(data[i]) ? lowest : sign * data[i]
  largestAlongRows(signed, width, height, half)
  largestAlongColumns(signed, width, height, half)
  for (let i = 0; i < data.length; i++) signed[i] = signed[i] === lowest ? 0 : sign * signed[i]
  return signed
}

/**
 * Replaces each value along lines by the largest within `half` of it, in place, with three comparisons each whatever
 * `half` is: the largest from the beginning of each value's block to it, and from it to the end of the block (van Herk,
 * Pattern Recognition Letters 13 (1992) 517; Gil and Werman, IEEE PAMI 15 (1993) 504).
 */
function largestAlongRows(data: Float32Array, width: number, height: number, half: number): void {
  const window = 2 * half + 1
  const length = width + 2 * half
  const line = new Float32Array(length).fill(Number.NEGATIVE_INFINITY)
  const forwards = new Float32Array(length)
  const backwards = new Float32Array(length)
  for (let row = 0; row < height; row++) {
    line.set(data.subarray(row * width, (row + 1) * width), half)
    for (let i = 0; i < length; i++)
      forwards[i] = i % window === 0 || line[i] > forwards[i - 1] ? line[i] : forwards[i - 1]
    backwards[length - 1] = line[length - 1]
    for (let i = length - 2; i >= 0; i--)
      backwards[i] = i % window === window - 1 || line[i] > backwards[i + 1] ? line[i] : backwards[i + 1]
    const at = row * width
    for (let i = 0; i < width; i++) data[at + i] = Math.max(backwards[i], forwards[i + window - 1])
  }
}

/** The same along columns, a whole row at a time. */
function largestAlongColumns(data: Float32Array, width: number, height: number, half: number): void {
  const window = 2 * half + 1
  const rows = height + 2 * half
  const forwards = new Float32Array(rows * width).fill(Number.NEGATIVE_INFINITY)
  forwards.set(data, half * width)
  const backwards = forwards.slice()
  for (let row = 1; row < rows; row++) {
    if (row % window === 0) continue
    for (let i = row * width; i < (row + 1) * width; i++)
      if (forwards[i - width] > forwards[i]) forwards[i] = forwards[i - width]
  }
  for (let row = rows - 2; row >= 0; row--) {
    if (row % window === window - 1) continue
    for (let i = row * width; i < (row + 1) * width; i++)
      if (backwards[i + width] > backwards[i]) backwards[i] = backwards[i + width]
  }
  const ahead = (window - 1) * width
  for (let i = 0; i < data.length; i++) data[i] = Math.max(backwards[i], forwards[i + ahead])
}
