import { type ById, inOrder, nextOrder } from '../document/order.ts'
import type { Block, BlockContent, Pin, Report, Reported } from '../document/report.ts'
import type { Mutator } from '../patch.ts'

type ReportMutator = Mutator<Reported>

/** Orders closer together than this leave no room between them: all blocks are numbered again. */
const CLOSEST = 1e-6

/** Returns the order of a block behind another one; null: in front of all. Numbers all blocks again if there is no room. */
function orderBehind(blocks: ById<Block>, after: string | null): number {
  const sorted = inOrder(blocks)
  const at = after === null ? -1 : sorted.findIndex(([id]) => id === after)
  if (after !== null && at < 0) return nextOrder(blocks)
  const [before, behind] = [sorted[at]?.[1].order, sorted[at + 1]?.[1].order]
  if (behind === undefined) return nextOrder(blocks)
  const order = before === undefined ? behind - 1 : (before + behind) / 2
  if (before === undefined || behind - before > CLOSEST) return order
  sorted.forEach(([, block], i) => {
    block.order = i
  })
  return at + 0.5
}

/** Adds blocks one after the other, behind a block; null: in front of all. */
export function addBlocks(
  added: readonly (readonly [string, BlockContent])[],
  after: string | null,
): ReportMutator {
  return ({ report: { blocks } }) => {
    let behind = after
    for (const [id, content] of added) {
      const order = orderBehind(blocks, behind)
      blocks[id] = { ...content, order, pin: null } as Block
      behind = id
    }
  }
}

/** Adds blocks at the end. */
export function appendBlocks(added: readonly (readonly [string, BlockContent])[]): ReportMutator {
  return (draft) => addBlocks(added, inOrder(draft.report.blocks).at(-1)?.[0] ?? null)(draft)
}

/** Changes what a block shows; its kind stays as it is. */
export function changeBlock<K extends BlockContent['kind']>(
  id: string,
  kind: K,
  change: Partial<Omit<Extract<BlockContent, { kind: K }>, 'kind'>>,
): ReportMutator {
  return ({ report: { blocks } }) => {
    if (blocks[id]?.kind === kind) Object.assign(blocks[id], change)
  }
}

/** Replaces blocks, adds those that are not there and removes those that are null: what one burst of writing has changed. */
export function setBlocks(changed: Readonly<Record<string, Block | null>>): ReportMutator {
  return ({ report: { blocks } }) => {
    for (const [id, block] of Object.entries(changed))
      if (block === null) delete blocks[id]
      else blocks[id] = block
  }
}

/** Removes blocks. */
export function removeBlocks(ids: readonly string[]): ReportMutator {
  return ({ report: { blocks } }) => {
    for (const id of ids) delete blocks[id]
  }
}

/** Moves a block behind another one; null: in front of all. */
export function moveBlock(id: string, after: string | null): ReportMutator {
  return ({ report: { blocks } }) => {
    if (!blocks[id] || id === after) return
    const { [id]: moved, ...others } = blocks
    const sorted = inOrder(others)
    const place = after === null ? 0 : sorted.findIndex(([other]) => other === after) + 1
    if (inOrder(blocks).findIndex(([other]) => other === id) !== place)
      moved.order = orderBehind(others, after)
  }
}

/** Pins a block as it is, or lets it follow its sources again (null). */
export function pinBlock(id: string, pin: Pin | null): ReportMutator {
  return ({ report: { blocks } }) => {
    if (blocks[id]) blocks[id].pin = pin
  }
}

/** Changes title, author, date or paper of the report, or notes what was printed. */
export function setReport(change: Partial<Omit<Report, 'blocks'>>): ReportMutator {
  return ({ report }) => {
    Object.assign(report, change)
  }
}
