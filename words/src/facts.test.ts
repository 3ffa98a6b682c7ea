import { THROWN, thrown } from '@apokinema/core/testing/thrown'
import { measurement } from '@apokinema/core/units'
import { describe, expect, it } from 'vitest'
import { factsSheet, measurementFacts, packedReadme } from './facts.ts'

describe('how an investigation was measured', () => {
  const investigation = thrown({})
  const facts = new Map(measurementFacts(investigation))

  it('is its title, its frames, its scale and its bodies', () => {
    const { title, bodies, span, freeFall } = investigation
    expect(facts.get('title')).toBe(title)
    expect(facts.get('frames')).toBe(`${span.first} to ${span.last}, every ${span.every}`)
    // The ends of the reference lie 315 px apart, and stand for 1.4 m.
    expect(facts.get('scale')).toMatch(/^225\.00 ± 0\.51\spx\/m$/)
    expect(facts.get('derivatives')).toMatch(/three neighbouring points/)
    expect(facts.get('g')).toBe(measurement(freeFall.value, freeFall.error, 'm/s²'))
    const { name, marks } = bodies[THROWN.body]
    expect(facts.get('body')).toBe(`${name}: ${Object.keys(marks).length} marks`)
  })

  it('says where there is no scale', () => {
    const unscaled = measurementFacts({ ...investigation, references: {} })
    expect(new Map(unscaled).get('scale')).toBe('none: lengths are in pixels')
  })

  it('is a sheet with its fits', () => {
    const { rows } = factsSheet(investigation, ['1: a fit'])
    expect(rows).toContainEqual(['title', investigation.title])
    expect(rows.at(-1)).toEqual(['fit', '1: a fit'])
  })

  it('stands in the readme below the list of entries', () => {
    const lines = packedReadme(investigation, {
      document: 'investigation.json',
      footage: null,
      tables: ['tables/1 float.csv'],
    }).split('\r\n')
    expect(lines[0]).toBe(investigation.title)
    expect(
      lines.filter((line) => /^investigation.json {2}|^tables\/1 float.csv {2}/.test(line)),
    ).toHaveLength(2)
    expect(lines).toContain(`derivatives: ${facts.get('derivatives')}`)
    expect(lines.some((line) => line.includes('footage as it was'))).toBe(false)
  })
})
