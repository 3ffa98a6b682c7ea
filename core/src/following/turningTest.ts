import { distance, type Point } from '../geometry/index.ts'

/**
 * The outline tells the place from then on where, of the last `of` sightings, the template failed in `fails`, or where its
 * places are rough by more than `rough` pixels and `times` as rough as those of the outline.
 */
const TURNS = { of: 8, fails: 3, rough: 0.4, times: 1.6 }
/**
 * An outline is given up if, over `seen` sightings and more, it lies apart from a smooth look by more than so many pixels
 * and radii on the average, or is itself rougher than `rough` pixels.
 */
const WRONG = { seen: 5, pixels: 0.8, radii: 0.04, rough: 0.8 }

/** Four places in a row are compared in so many sightings at least. */
const FEWEST = 3

/** A template slips if its mean distance from a sharp outline has grown by so many pixels within the last sightings. */
const SLIPS = 0.15

const mean = (values: number[]) => values.reduce((sum, one) => sum + one, 0) / values.length

/** Root mean square of third differences, scaled so that it is the standard error of a place along each direction. */
const roughness = (squares: number[]) =>
  Math.sqrt(squares.reduce((sum, one) => sum + one, 0) / (2 * 20 * squares.length))

/** Squared length of the third difference of four places in a row. */
const thirdDifference = ([a, b, c, d]: Point[]) =>
  (d.x - 3 * c.x + 3 * b.x - a.x) ** 2 + (d.y - 3 * c.y + 3 * b.y - a.y) ** 2

/** Compares the places that a template and an outline gave in the last frames. */
export class TurningTest {
  /** Whether the template's places have lately been smooth. */
  isTemplateSmooth = false
  /** Mean distance of the last templates from the outlines of the same frames, in pixels; 0 unless all of these were sharp. */
  apartFromSharp = 0
  private places: { template: Point | null; shape: Point | null; isSharp: boolean }[] = []

  /**
   * Adds the places of one frame, null for one that failed.
   *
   * @param radius of the body, in pixels
   * @param isSharp whether the outline fits almost exactly: if it does in all frames, it is the template that slips where both move apart
   * @returns 'turns' if the outline is the better witness of the place, 'outline is wrong' if it follows something else
   */
  add(
    template: Point | null,
    shape: Point | null,
    radius: number,
    isSharp: boolean,
  ): 'turns' | 'outline is wrong' | 'steady' {
    this.places.push({ template, shape, isSharp })
    if (this.places.length > TURNS.of) this.places.shift()
    this.isTemplateSmooth = false
    this.apartFromSharp = 0
    if (this.places.filter((one) => one.template === null).length >= TURNS.fails) return 'turns'
    // Only where both have a place: a collision, at which one of them fails, is rough for both.
    const rows = this.places.slice(3).flatMap((_, i) => {
      const row = this.places.slice(i, i + 4)
      const [templates, shapes] = [
        row.flatMap((one) => one.template ?? []),
        row.flatMap((one) => one.shape ?? []),
      ]
      return templates.length === 4 && shapes.length === 4 ? [{ templates, shapes }] : []
    })
    if (rows.length < FEWEST) return 'steady'
    const byTemplate = roughness(rows.map(({ templates }) => thirdDifference(templates)))
    const byShape = roughness(rows.map(({ shapes }) => thirdDifference(shapes)))
    this.isTemplateSmooth = byTemplate < TURNS.rough
    const both = this.places.flatMap((one) =>
      one.template && one.shape ? [distance(one.template, one.shape)] : [],
    )
    const apart = mean(both)
    const isSharpThroughout = this.places.every((one) => one.isSharp)
    if (isSharpThroughout) this.apartFromSharp = apart
    const isApart = apart > Math.max(WRONG.pixels, WRONG.radii * radius)
    const isRough = byShape > WRONG.rough
    if (byTemplate < TURNS.rough && both.length >= WRONG.seen && (isApart || isRough)) {
      if (isRough || !isSharpThroughout) return 'outline is wrong'
      const half = both.length >> 1
      return mean(both.slice(half)) > mean(both.slice(0, half)) + SLIPS ? 'turns' : 'steady'
    }
    return byTemplate > TURNS.rough && byTemplate > TURNS.times * byShape ? 'turns' : 'steady'
  }
}
