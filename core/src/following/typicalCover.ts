/** Share by which more of the shape becomes typical with each sighting, and by which less does. */
const RENEWAL = { more: 0.2, less: 0.05 }
/**
 * A body of whose shape less than `share` of the typical is seen is hidden in part, less `smear` of what a smear makes faint at both
 * ends, and so many deviations below the typical; where it comes out again more must be seen.
 */
const CUT = { share: 0.92, smear: 0.25, deviations: 3, again: 0.96 }

/**
 * The share of a body's shape that typically differs clearly from the background, and how much that varies from frame to frame. Where
 * it is less, something hides a part of the body, and the rest fits the shape equally well anywhere within it.
 */
export class TypicalCover {
  private last: number
  private variance = 0

  /** @param share in the frame in which the shape was learned */
  constructor(private share: number) {
    this.last = share
  }

  /** Takes over the share in a frame in which the body was found; NaN where it is not known. */
  renew(share: number): void {
    if (Number.isNaN(share)) return
    this.share += (share > this.share ? RENEWAL.more : RENEWAL.less) * (share - this.share)
    this.variance += RENEWAL.more * ((share - this.last) ** 2 / 2 - this.variance)
    this.last = share
  }

  /**
   * Returns true if so little of the shape is seen that something hides a part of it.
   *
   * @param smear way that the body goes while the shutter is open, in radii
   * @param isAgain whether it was not seen just before
   */
  isCut(share: number, smear: number, isAgain: boolean): boolean {
    const least = (isAgain ? CUT.again : CUT.share) - CUT.smear * smear
    return share < Math.min(least * this.share, this.share - CUT.deviations * Math.sqrt(this.variance))
  }
}
