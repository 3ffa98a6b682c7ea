import { describe, expect, it } from 'vitest'
import { HELP_PAGES, parseRecipe, parseSections, searchHelp } from './helpPages.ts'

describe('the pages of help', () => {
  it('are thirteen recipes, the words, and the methods, each with a text', () => {
    const count = (group: string) => HELP_PAGES.filter((page) => page.group === group).length
    expect(count('recipe')).toBe(13)
    expect(count('word')).toBeGreaterThan(20)
    expect(count('method')).toBeGreaterThan(10)
    expect(new Set(HELP_PAGES.map(({ id }) => id)).size).toBe(HELP_PAGES.length)
    for (const { text } of HELP_PAGES) expect(text.length).toBeGreaterThan(20)
  })

  it('of recipes say how to film, set up, fit and read, and what goes wrong', () => {
    for (const { group, title, text } of HELP_PAGES)
      if (group === 'recipe')
        for (const heading of ['Film it', 'Set it up', 'Graph and model', 'Read', 'What usually goes wrong'])
          expect(text, title).toContain(`## ${heading}\n`)
  })

  it('name samples that there are', () => {
    const samples = [
      'crane-pebble',
      'net-float',
      'barrel-on-plank',
      'fish-sledge',
      'ice-blocks',
      'swing-boat',
    ]
    samples.push('paper-lantern', 'bead-in-syrup', 'fender', 'hoisted-lantern')
    for (const { sample } of HELP_PAGES) if (sample) expect(samples).toContain(sample)
  })
})

describe('files that somebody has edited', () => {
  it('are read with or without their head', () => {
    const whole = parseRecipe('x/07-tide.md', '---\ntitle: The tide\nsample: \n---\n\nIt *rises*.\n')
    expect(whole).toEqual({
      id: '07-tide',
      group: 'recipe',
      title: 'The tide',
      text: 'It *rises*.',
      sample: null,
    })
    const bare = parseRecipe('x/tide.md', 'It rises.')
    expect(bare).toMatchObject({ id: 'tide', title: 'tide', text: 'It rises.' })
  })

  it('are split at headings of the second level only', () => {
    const sections = parseSections('word', '# Words\n\n## one two\n\nText.\n\n### inner\n\n## three\nMore.')
    expect(sections.map(({ id, title }) => [id, title])).toEqual([
      ['word-one-two', 'one two'],
      ['word-three', 'three'],
    ])
    expect(sections[0].text).toContain('### inner')
  })
})

describe('a search', () => {
  const pages = [
    { title: 'Ramp', text: 'down a slope' },
    { title: 'Fall', text: 'like a ramp, but steep' },
    { title: 'Spring', text: 'to and fro' },
  ]

  it('finds pages with all words, titles first, whatever the case', () => {
    expect(searchHelp(pages, 'RAMP').map(({ title }) => title)).toEqual(['Ramp', 'Fall'])
    expect(searchHelp(pages, 'steep ramp').map(({ title }) => title)).toEqual(['Fall'])
    expect(searchHelp(pages, 'slope spring')).toEqual([])
    expect(searchHelp(pages, '  ')).toEqual(pages)
  })
})
