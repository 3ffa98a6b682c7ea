import { LIMITS } from '@apokinema/core/investigation'
import { Fragment, type Node, Slice } from '@tiptap/pm/model'

/** Returns a block with as much of its text as a report keeps. */
function cutBlock(node: Node): Node {
  if (node.childCount <= LIMITS.inlines && node.content.size <= LIMITS.blockCharacters) return node
  const pieces = Fragment.from(node.children.slice(0, LIMITS.inlines))
  return node.copy(pieces.cut(0, Math.min(pieces.size, LIMITS.blockCharacters)))
}

/**
 * Returns as much of what was pasted as a report can still hold.
 *
 * @param room number of blocks that can be added
 */
export function fitPasted(slice: Slice, room: number): { slice: Slice; isCut: boolean } {
  const nodes: Node[] = []
  slice.content.forEach((node) => {
    nodes.push(node)
  })
  const kept = nodes.slice(0, Math.max(0, room)).map((node) => (node.isTextblock ? cutBlock(node) : node))
  const isCut = kept.length < nodes.length || kept.some((node, i) => node !== nodes[i])
  if (!isCut) return { slice, isCut }
  return { slice: new Slice(Fragment.from(kept), kept.length > 0 ? slice.openStart : 0, 0), isCut }
}
