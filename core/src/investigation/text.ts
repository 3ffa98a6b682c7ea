/** NUL, and halves of characters that have lost the other half: PostgreSQL's JSON keeps neither. */
const UNKEPT = '\\u0000|[\\uD800-\\uDBFF](?![\\uDC00-\\uDFFF])|(?<![\\uD800-\\uDBFF])[\\uDC00-\\uDFFF]'
const HAS_UNKEPT = new RegExp(UNKEPT)
const ALL_UNKEPT = new RegExp(UNKEPT, 'g')

/** Returns true if a text can be kept: it holds no NUL, and no half of a surrogate pair. */
export const isKeepable = (text: string) => !HAS_UNKEPT.test(text)

/** Returns true if a text can be kept as a name: it is one line that shows, without control characters. */
export const isOneLine = (text: string) => isKeepable(text) && !/\p{Cc}/u.test(text)

/** Returns a text with a replacement character for whatever can't be kept in it. */
export const keepable = (text: string) => text.replace(ALL_UNKEPT, '\uFFFD')

const characters = new Intl.Segmenter(undefined, { granularity: 'grapheme' })
/** UTF-16 units of a character beyond which it is halved all the same. */
const LONGEST_CHARACTER = 64

/**
 * Returns the beginning of a text that is no longer than so many UTF-16 units, cut between what people take for characters:
 * an emoji or a letter with its accents is left out rather than halved.
 */
export function cutText(text: string, most: number): string {
  if (text.length <= most) return text
  let end = 0
  for (const { index, segment } of characters.segment(text.slice(0, most + LONGEST_CHARACTER))) {
    if (index + segment.length > most) break
    end = index + segment.length
  }
  return text.slice(0, end)
}

/** Returns a name or title out of any text: on one line, without what can't be kept, and no longer than so many units. */
export const cleanTitle = (text: string, most: number): string =>
  cutText(keepable(text.replace(/[\s\p{Cc}]+/gu, ' ')).trim(), most).trim()
