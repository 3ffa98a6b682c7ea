import methodsText from '../../../docs/methods.md?raw'
import glossaryText from '../../../help/glossary.md?raw'

/** A page of help in Markdown. */
export interface HelpPage {
  id: string
  group: 'recipe' | 'word' | 'method'
  title: string
  text: string
  /** Id of the sample on which it can be tried; null where there is none. */
  sample: string | null
}

const recipeTexts = import.meta.glob<string>('../../../help/recipes/*.md', {
  query: '?raw',
  import: 'default',
  eager: true,
})

/** Returns a recipe from its file: `title` and `sample` between lines of dashes, then its text. */
export function parseRecipe(path: string, content: string): HelpPage {
  const [, head = '', text = ''] = /^---\n([\s\S]*?)\n---\n([\s\S]*)$/.exec(content) ?? ['', '', content]
  const field = (name: string) => new RegExp(`^${name}:[ \\t]*(.*)$`, 'm').exec(head)?.[1].trim() ?? ''
  const id = path.replace(/^.*\//, '').replace(/\.md$/, '')
  return {
    id,
    group: 'recipe',
    title: field('title') || id,
    text: text.trim(),
    sample: field('sample') || null,
  }
}

/** Returns a page for each heading of the second level; what is before the first is left out. */
export function parseSections(group: 'word' | 'method', content: string): HelpPage[] {
  return content
    .split(/^## /m)
    .slice(1)
    .map((section) => {
      const [title, ...lines] = section.split('\n')
      const id = `${group}-${title.toLowerCase().replaceAll(/[^a-z]+/g, '-')}`
      return { id, group, title, text: lines.join('\n').trim(), sample: null }
    })
}

/** All pages: recipes in the order of their files, words by the alphabet, and the methods. */
export const HELP_PAGES: readonly HelpPage[] = [
  ...Object.entries(recipeTexts)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([path, content]) => parseRecipe(path, content)),
  ...parseSections('word', glossaryText),
  ...parseSections('method', methodsText),
]

/** Returns the pages that hold all words of a search, those whose title holds them first. */
export function searchHelp<T extends { title: string; text: string }>(
  pages: readonly T[],
  wanted: string,
): T[] {
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean)
  const holds = (text: string) => words.every((word) => text.toLowerCase().includes(word))
  const inTitle = pages.filter(({ title }) => holds(title))
  const inText = pages.filter((page) => !inTitle.includes(page) && holds(`${page.title} ${page.text}`))
  return [...inTitle, ...inText]
}
