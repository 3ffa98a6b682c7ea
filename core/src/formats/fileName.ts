import type { Investigation } from '../investigation/index.ts'

/**
 * Returns a file name made from a title: letters, digits and a few signs of any script, and nothing that could form a
 * path.
 */
export function fileNameOf({ title }: Pick<Investigation, 'title'>, ending: string): string {
  const plain = title
    .replace(/[^\p{L}\p{N} ,_-]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 80)
  return `${plain || 'investigation'}.${ending}`
}
