/** A block as it is laid out on pages. Lengths are in CSS pixels. */
export interface PageItem {
  /** With the space around it. */
  height: number
  /** True for a heading, which never ends a page. */
  keepsWithNext: boolean
  /** True if it begins a page whatever room there is. */
  beginsPage: boolean
  /** What a table can be split into; null for a block that is kept whole. */
  rows: TableRows | null
}

/** Heights of the parts of a table: the caption with the head, the head alone, which is repeated on the next page, and each row. */
interface TableRows {
  top: number
  head: number
  heights: readonly number[]
}

/** Where a page begins. */
export interface PageBreak {
  /** Index of the item that begins the page. */
  item: number
  /** Index of the row that begins the page, within a table that is split; null if the page begins with the whole item. */
  row: number | null
  /** Empty height left on the page before. */
  rest: number
}

const sum = (lengths: readonly number[]) => lengths.reduce((total, length) => total + length, 0)

/** Fewest rows of a split table on a page. */
const FEWEST_ROWS = 2

/**
 * Returns where pages begin. A block is kept whole if it fits on a page, and a heading stays with what follows it. A table longer
 * than a page is split between rows; any other block longer than a page begins one and flows over.
 *
 * @param before height that is taken on the first page
 * @param capacity height of a page
 */
export function paginate(items: readonly PageItem[], before: number, capacity: number): PageBreak[] {
  const breaks: PageBreak[] = []
  let used = before
  const begin = (item: number, row: number | null, taken: number) => {
    breaks.push({ item, row, rest: Math.max(0, capacity - used) })
    used = taken
  }
  items.forEach((item, i) => {
    const follows = i > 0 && items[i - 1].keepsWithNext && !item.beginsPage
    const isAtTop = used === 0
    if (
      i > 0 &&
      (item.beginsPage || (!follows && !isAtTop && used + neededFrom(items, i, capacity) > capacity))
    )
      begin(i, null, 0)
    if (item.height <= capacity - used || !item.rows) {
      used += item.height
      // What flows over ends somewhere on a later page.
      if (used > capacity) used = used % capacity
      return
    }
    const { top, head, heights } = item.rows
    used += top
    heights.forEach((height, row) => {
      const isLastPair = row === heights.length - FEWEST_ROWS
      const needed = isLastPair ? height + heights[row + 1] : height
      if (row >= FEWEST_ROWS && used + needed > capacity) begin(i, row, head)
      used += height
    })
    used += item.height - top - sum(heights)
  })
  return breaks
}

/** Returns the height that must be free for an item to stand on a page: a heading takes what it heads along. */
function neededFrom(items: readonly PageItem[], from: number, capacity: number): number {
  let needed = 0
  for (let i = from; i < items.length; i++) {
    const { height, keepsWithNext, rows, beginsPage } = items[i]
    if (i > from && beginsPage) break
    const fits = height <= capacity
    needed += fits || !rows ? height : rows.top + sum(rows.heights.slice(0, FEWEST_ROWS))
    if (!keepsWithNext) break
  }
  return needed
}
