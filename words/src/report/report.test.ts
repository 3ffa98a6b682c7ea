import {
  type BlockContent,
  edit,
  edits,
  type Investigation,
  type Mutator,
  newInvestigation,
  plainText,
  type ValueSource,
} from '@apokinema/core/investigation'
import { graphBlock } from '@apokinema/core/testing/built'
import { THROWN, thrown } from '@apokinema/core/testing/thrown'
import { describe, expect, it } from 'vitest'
import { changedSincePrinted, changesSummary, printedBlocks } from './changes.ts'
import { investigationSubject } from './investigationSubject.ts'
import { methodText } from './methodText.ts'
import { runsText, type Shown, shownText, symbolRuns } from './shown.ts'
import { showBlock, showReport } from './showReport.ts'
import { templateBlocks } from './templates.ts'

const id = (n: number) => `00000000-0000-4000-8000-0000000000${n}`
const REFERENCE = '00000000-0000-4000-8000-000000000002'
const [STRETCH, FIT, CALCULATION] = [10, 11, 12].map(id)
const format = { part: 'measurement', digits: null, withUnit: true } as const
const acceleration: ValueSource = { of: 'reading', fit: FIT, reading: 'acceleration' }
const graph = graphBlock(THROWN.position)
const [TEXT, GRAPH, SECOND, EQUATION, TABLE] = [20, 21, 22, 23, 24].map(id)

/** Returns the throw with a fit of its height and a report of a few blocks. */
function reported(...more: [string, BlockContent][]): Investigation {
  return edit(thrown({}), (draft) => {
    edits.addStretch(STRETCH, THROWN.position, 0, 49)(draft)
    edits.addFit(FIT, STRETCH, 'uniform-acceleration')(draft)
    const against = { kind: 'value', value: 9.81, error: 0, label: 'g' } as const
    edits.changeFit(FIT, { expected: { reading: 'acceleration', against } })(draft)
    edits.setCalculation(CALCULATION, {
      symbol: 'k',
      name: 'ratio',
      expression: 'a_1/g',
      unit: '',
      against: null,
    })(draft)
    edits.appendBlocks([
      [
        TEXT,
        {
          kind: 'text',
          style: 'paragraph',
          indent: 0,
          inlines: [
            plainText('The acceleration in '),
            { kind: 'reference', block: SECOND },
            plainText(' is '),
            { kind: 'value', source: acceleration, format },
            plainText('.'),
          ],
        },
      ],
      [GRAPH, graph],
      [SECOND, { ...graph, graph: THROWN.velocity }],
      [EQUATION, { kind: 'equation', tex: 'F = m a' }],
      [
        TABLE,
        {
          kind: 'table',
          bodies: [THROWN.body],
          columns: ['x', 'vy'],
          rows: 3,
          rounded: true,
          errors: true,
          caption: null,
        },
      ],
      ...more,
    ])(draft)
  }).document
}

const subjectOf = (document: Investigation) => investigationSubject(document, document)
const shownNow = (document: Investigation) => showReport(subjectOf(document))
const changedSince = (document: Investigation) => changedSincePrinted(document.report, shownNow(document))

function shownIn(document: Investigation, block: string): Shown {
  return shownNow(document).find((one) => one.id === block)!.shown
}

describe('a report', () => {
  const document = reported()

  it('numbers figures, tables and equations each on their own, in the order of the blocks', () => {
    const labels = (one: Investigation) =>
      shownNow(one).flatMap(({ shown }) => ('label' in shown ? [shown.label] : []))
    expect(labels(document)).toEqual(['Figure 1', 'Figure 2', 'Equation 1', 'Table 1'])
    const moved = edit(document, edits.moveBlock(SECOND, null)).document
    expect(shownText(shownIn(moved, TEXT))).toContain('in Figure 1 is')
  })

  it('shows the same objects while only its text is edited, and new numbers where blocks are moved', () => {
    const shownAfter = (mutator: Mutator) =>
      new Map(
        showReport(investigationSubject(edit(document, mutator).document, document)).map((one) => [
          one.id,
          one.shown,
        ]),
      )
    const before = shownAfter(() => {})
    const written = shownAfter(edits.appendBlocks([[id(90), { kind: 'page-break' }]]))
    for (const block of [GRAPH, SECOND, TABLE]) expect(written.get(block)).toBe(before.get(block))
    const moved = shownAfter(edits.moveBlock(SECOND, null))
    expect(moved.get(SECOND)).toEqual({ ...before.get(SECOND), label: 'Figure 1' })
    expect(moved.get(GRAPH)).toEqual({ ...before.get(GRAPH), label: 'Figure 2' })
  })

  it('has live values in its sentences, which follow a corrected reference', () => {
    expect(shownText(shownIn(document, TEXT))).toMatch(
      /^The acceleration in Figure 2 is −9\.8\d+ ± 0\.0\d+\sm\/s²\.$/,
    )
    const corrected = edit(document, edits.changeReference(REFERENCE, { length: 2.8 })).document
    expect(shownText(shownIn(corrected, TEXT))).toMatch(/is −19\.6\d+ ± /)
  })

  it('says where a source is gone, and never shows an old number', () => {
    const gone = edit(document, edits.removeFit(FIT)).document
    expect(shownText(shownIn(gone, TEXT))).toBe('The acceleration in Figure 2 is no longer there.')
    const without = edit(document, edits.removeGraph(THROWN.velocity)).document
    expect(shownIn(without, SECOND)).toEqual({ kind: 'missing', text: 'This graph is no longer there.' })
  })

  it('describes a graph for people who can’t see it', () => {
    const shown = shownIn(document, GRAPH)
    // A throw from 0 at 4.2 m/s: 0.899 m high after 0.428 s, and at 0.159 m in the last frame, after 49/60 s.
    expect(shown).toMatchObject({
      alternative: expect.stringMatching(
        /^Position along y against time: 50 points, from 0\sm up to 0\.899\sm and down to 0\.159\sm; uniform acceleration fitted\.$/,
      ),
      caption: 'Position along y against time, body 1, with the fit: uniform acceleration.',
    })
  })

  it('has a table of evenly spaced rows, rounded to their errors', () => {
    const { head, rows } = shownIn(document, TABLE) as Extract<Shown, { kind: 'table' }>
    expect(head.map(runsText)).toEqual(['t (s)', 'x (m)', '± x', 'vy (m/s)', '± vy'])
    expect(rows).toHaveLength(3)
    expect(rows.map(([time]) => time)).toEqual(['0.0000', '0.4083', '0.8167'])
    // x = 2.6 m/s · t.
    expect(Number(rows[2][1])).toBeCloseTo(2.6 * (49 / 60), 2)
  })

  it('shows fits, readings, comparisons and calculations with their errors', () => {
    const all = reported(
      [id(30), { kind: 'fit', fit: FIT, parameters: true, closeness: true, residuals: false }],
      [id(31), { kind: 'reading', fit: FIT, reading: 'acceleration', budget: true }],
      [id(32), { kind: 'comparison', fit: FIT }],
      [id(33), { kind: 'calculation', calculation: CALCULATION, budget: false }],
    )
    expect(shownIn(all, id(30))).toMatchObject({
      title: 'Uniform acceleration: position along y of body 1, frames 0 to 49',
      tex: [expect.stringMatching(/^y = y_\{0\}/), expect.stringContaining('4.2')],
      rows: expect.arrayContaining([[symbolRuns('a', ''), expect.stringMatching(/^−9\.8/)]]),
    })
    expect(shownText(shownIn(all, id(31)))).toMatch(/Acceleration: −9\.8.*Of the error: /)
    expect(shownText(shownIn(all, id(32)))).toMatch(/Expected: 9\.810\sm\/s².*agrees within its error/)
    expect(shownText(shownIn(all, id(33)))).toMatch(/^ratio\. k: −1\.00/)
  })
})

describe('results', () => {
  it('of a fit show what its points are off by, along the stretch', () => {
    // The mark of frame 25 is 10 px of 225 px/m too low; the fit takes 1/22 of that up.
    const document = edit(
      reported([id(30), { kind: 'fit', fit: FIT, parameters: false, closeness: false, residuals: true }]),
      (draft) => {
        const { x, y } = draft.bodies[THROWN.body].marks[25]
        edits.moveMark(THROWN.body, 25, { x, y: y + 10 })(draft)
      },
    ).document
    const shown = shownIn(document, id(30))
    if (shown.kind !== 'result' || !shown.residuals) throw new Error('There are no residuals.')
    const { points, most, alternative } = shown.residuals
    expect(points).toHaveLength(50)
    expect(points[25][0]).toBeCloseTo(25 / 49, 3)
    expect(points[25][1]).toBe(-1)
    for (const [i, [, off]] of points.entries()) if (i !== 25) expect(Math.abs(off)).toBeLessThan(0.06)
    expect(most).toMatch(/^0\.042\sm$/)
    expect(alternative).toMatch(/^Residuals of 50 points, up to 0\.042\sm$/)
  })

  it('compare two readings, with what they share', () => {
    const other = id(15)
    const paired = edit(reported([id(30), { kind: 'comparison', fit: FIT }]), (draft) => {
      edits.addFit(other, STRETCH, 'uniform-acceleration')(draft)
      const against = { kind: 'reading', fit: other, reading: 'acceleration', factor: 2 } as const
      edits.changeFit(FIT, { expected: { reading: 'acceleration', against } })(draft)
    }).document
    expect(shownText(shownIn(paired, id(30)))).toMatch(
      /^Comparison of two readings\. Acceleration: −9\.8.*2\.00 × acceleration of the other fit: −19\.6.*Difference 9\.8.*Both depend on the same marks/,
    )
    const gone = edit(paired, edits.removeFit(other)).document
    expect(shownText(shownIn(gone, id(30)))).toMatch(/no longer there/)
  })

  it('compare a calculation with what is expected of it', () => {
    const block: [string, BlockContent] = [
      id(30),
      { kind: 'calculation-comparison', calculation: CALCULATION },
    ]
    expect(shownIn(reported(block), id(30))).toEqual({
      kind: 'missing',
      text: 'This comparison is no longer there.',
    })
    const compared = edit(reported(block), (draft) => {
      const { order: _, ...calculation } = draft.calculations[CALCULATION]
      const against = { kind: 'value', value: -1, error: 0, label: '' } as const
      edits.setCalculation(CALCULATION, { ...calculation, against })(draft)
    }).document
    expect(shownText(shownIn(compared, id(30)))).toMatch(
      /k: −1\.00.*Expected: −1\.000\. .*agrees within its error/,
    )
  })
})

describe('the paragraph on how it was measured', () => {
  it('states footage, frame rate, frames, scale, axes, marks and derivation', () => {
    expect(methodText(reported())).toMatch(
      /^The clip throw\.mp4 \(1280 × 720 px\) was recorded at 60\.0\sframes per second\. Every frame from 0 to 49 was used, 50 in all\. The scale of 225\.00 ± 0\.51\spx\/m comes from a reference length: reference length of 1\.400\sm\. The origin lies at \(238\.0, 560\.0\) px\. The x axis is horizontal in the picture\. body 1 was marked in 50 frames, by hand\. Velocity and acceleration /,
    )
  })

  it('tells, once it was edited, when the facts have changed since', () => {
    const document = reported([
      id(30),
      { kind: 'method', text: 'We filmed it.', facts: methodText(reported()) },
    ])
    expect(shownIn(document, id(30))).toEqual({ kind: 'method', text: 'We filmed it.', hasChanged: false })
    const corrected = edit(document, edits.changeReference(REFERENCE, { length: 2.8 })).document
    expect(shownIn(corrected, id(30))).toMatchObject({ hasChanged: true })
  })
})

describe('the template of a lab report', () => {
  it('is linked to what the investigation has, with a table that fits on a page', () => {
    const blocks = templateBlocks(reported(), 'lab-report')
    const kinds = blocks.map(({ kind }) => kind)
    for (const kind of ['chronophotograph', 'method', 'table', 'graph', 'fit', 'reading'])
      expect(kinds).toContain(kind)
    // 50 marks would be a page of numbers.
    expect(blocks.find(({ kind }) => kind === 'table')).toMatchObject({ rows: 20 })
    expect(
      blocks.find((block) => block.kind === 'text' && block.inlines.some(({ kind }) => kind === 'value')),
    ).toBeDefined()
  })

  it('has its headings alone where nothing is marked yet', () => {
    const kinds = templateBlocks(newInvestigation('Empty'), 'lab-report').map(({ kind }) => kind)
    expect(new Set(kinds)).toEqual(new Set(['text', 'method']))
  })
})

describe('a pinned block', () => {
  it('stays as it was, and says since when', () => {
    const document = reported()
    const shown = JSON.stringify(showBlock(subjectOf(document), TEXT))
    const at = '2026-11-30T12:00:00Z'
    const pinned = edit(document, (draft) => {
      edits.pinBlock(TEXT, { at, shown })(draft)
      edits.changeReference(REFERENCE, { length: 2.8 })(draft)
    }).document
    const [first] = shownNow(pinned)
    expect(first).toMatchObject({ id: TEXT, pinned: at })
    expect(shownText(first.shown)).toMatch(/is −9\.8/)
    expect(shownText(showBlock(subjectOf(pinned), TEXT)!)).toMatch(/is −19\.6/)
  })

  it('has the number that it has now: others may have come before it', () => {
    const document = reported()
    const shown = JSON.stringify(showBlock(subjectOf(document), GRAPH))
    const pinned = edit(document, (draft) => {
      edits.pinBlock(GRAPH, { at: '2026-11-30T12:00:00Z', shown })(draft)
      edits.moveBlock(SECOND, null)(draft)
    }).document
    expect(shownIn(pinned, GRAPH)).toEqual({ ...JSON.parse(shown), label: 'Figure 2' })
  })

  it.each([
    '{',
    'null',
    '[]',
    '{"kind":"constructor"}',
    '{"kind":"table","label":"Table 1","caption":"","head":"t","rows":[]}',
    '{"kind":"text","style":"paragraph","indent":0,"runs":[null]}',
    '{"kind":"text","style":"paragraph","indent":0,"runs":[{"kind":"text","text":"x","marks":[],"link":"javascript:0"}]}',
    '{"kind":"result","title":"","tex":[],"rows":[["a","b"]],"sentences":[],"residuals":null}',
    '{"kind":"result","title":"","tex":[],"rows":[],"sentences":[],"residuals":{"points":[[0,"x"]],"most":"","alternative":""}}',
  ])('whose record can’t be read follows its sources: %s', (shown) => {
    const broken = edit(reported(), edits.pinBlock(TEXT, { at: 'then', shown })).document
    expect(shownNow(broken)[0]).toMatchObject({ pinned: null, shown: { kind: 'text' } })
  })

  it('of every kind is read back as it was', () => {
    const document = reported([
      id(30),
      { kind: 'fit', fit: FIT, parameters: true, closeness: true, residuals: true },
    ])
    const pinned = edit(document, (draft) => {
      for (const { id: block, shown } of shownNow(document))
        edits.pinBlock(block, { at: '2026-11-30T12:00:00Z', shown: JSON.stringify(shown) })(draft)
    }).document
    for (const [i, { shown }] of shownNow(document).entries()) {
      const found = shownNow(pinned)[i]
      expect(found.shown).toEqual(shown)
      if (shown.kind !== 'unknown' && shown.kind !== 'page-break' && shown.kind !== 'question')
        expect(found.pinned).not.toBeNull()
    }
  })
})

describe('changes since a report was printed', () => {
  const printed = edit(reported(), (draft) => {
    draft.report.printed = { at: '2026-11-30T12:00:00Z', blocks: printedBlocks(shownNow(reported())) }
  }).document

  it('are none where nothing has changed, or nothing was printed', () => {
    expect(changedSince(printed)).toEqual([])
    expect(changedSince(reported())).toEqual([])
  })

  it('are the blocks that show something else, each before and after', () => {
    const corrected = edit(printed, edits.changeReference(REFERENCE, { length: 2.8 })).document
    const changes = changedSince(corrected)
    expect(changes.map(({ id: block }) => block)).toEqual([TEXT, GRAPH, SECOND, TABLE])
    expect(changes[0].before).toMatch(/is −9\.8/)
    expect(changes[0].now).toMatch(/is −19\.6/)
    expect(changesSummary(changes)).toBe('2 figures, 1 table and 1 text')
    expect(changesSummary(changes.slice(0, 1))).toBe('1 text')
  })

  it('are found in a graph of which one point has moved, though its description stays', () => {
    const moved = edit(printed, edits.moveMark(THROWN.body, 20, { x: 350, y: 400 })).document
    expect(changedSince(moved).map(({ id: block }) => block)).toContain(GRAPH)
  })
})
