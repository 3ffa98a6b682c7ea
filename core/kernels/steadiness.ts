/** Samples that are sorted at most. */
const MOST = 256
const sorted = memory.data(MOST * 16, 16)

/**
 * Middle of the samples of each pixel, and how far two quantiles of them lie apart: sixteen pixels at once by a sorting
 * network (odd-even transposition: Knuth, The Art of Computer Programming 3, 5.3.4).
 *
 * @param samples bytes of one frame behind the other, each `stride` bytes long
 * @param frames at most 256
 * @param count of pixels, read and written in sixteens
 * @param below @param above places of the middle among the sorted samples, or of the two around it
 * @param low @param high places of the quantiles
 * @param middle @param spread a number for each pixel
 */
export function steadiness(
  samples: usize,
  frames: i32,
  stride: i32,
  count: i32,
  below: i32,
  above: i32,
  low: i32,
  high: i32,
  middle: usize,
  spread: usize,
): void {
  for (let from = 0; from < count; from += 16) {
    for (let k = 0; k < frames; k++)
      v128.store(sorted + (k << 4), v128.load(samples + <usize>(k * stride + from)))
    for (let round = 0; round < frames; round++)
      for (let k = round & 1; k + 1 < frames; k += 2) {
        const place = sorted + (k << 4)
        const a = v128.load(place)
        const b = v128.load(place + 16)
        v128.store(place, i8x16.min_u(a, b))
        v128.store(place + 16, i8x16.max_u(a, b))
      }
    for (let k = 0; k < 16; k++) {
      const sum = <f32>load<u8>(sorted + (below << 4) + k) + <f32>load<u8>(sorted + (above << 4) + k)
      store<f32>(middle + ((<usize>(from + k)) << 2), sum / 2)
      const apart = <f32>load<u8>(sorted + (high << 4) + k) - <f32>load<u8>(sorted + (low << 4) + k)
      store<f32>(spread + ((<usize>(from + k)) << 2), apart)
    }
  }
}
