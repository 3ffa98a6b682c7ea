import type { Investigation } from '../investigation/index.ts'

/** A file name made from a title: letters, digits and a few signs of any script, nothing that a path could be made of. */
export function fileNameOf({ title }: Pick<Investigation, 'title'>, ending: string): string {
  const plain = title
    .replace(/[^\p{L}\p{N} ,_-]+/gu, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 80)
  return `${plain || 'investigation'}.${ending}`
}
