import type { TextStyle } from '@apokinema/core/investigation'

/** Styles of a paragraph, with their names and what they are for. */
export const STYLE_NAMES: readonly (readonly [TextStyle, string, string])[] = [
  ['paragraph', 'Text', 'a plain paragraph'],
  ['heading', 'Heading', 'of a section'],
  ['subheading', 'Subheading', 'within a section'],
  ['bullet', 'Bulleted list', 'items in any order'],
  ['numbered', 'Numbered list', 'steps in order'],
  ['quote', 'Quote', 'indented'],
]
