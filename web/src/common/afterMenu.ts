/**
 * Does something after a menu has closed. A closing menu gives the focus back to its button in the next
 * frame; a field that appears before that would lose it at once.
 */
export function afterMenu(act: () => void): void {
  requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(act)))
}
