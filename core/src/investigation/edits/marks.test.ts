import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { build, full, id } from '../../testing/built.ts'
import type { Mark } from '../document/bodies.ts'
import {
  applyPatch,
  checkInvestigation,
  checkPatchedInSteps,
  edit,
  edits,
  type Mutator,
  type Patch,
} from '../index.ts'

const BODY = id(3)
const frame = fc.integer({ min: 0, max: 40 })
const place = fc.record({ x: fc.integer({ min: 0, max: 9 }), y: fc.integer({ min: 0, max: 9 }) })
const found = fc
  .uniqueArray(frame, { maxLength: 6 })
  .map((frames) => Object.fromEntries(frames.map((at) => [at, { x: at, y: 1, certainty: 0.5 }])))

/** Any edit of marks. */
const anyEdit: fc.Arbitrary<Mutator> = fc.oneof(
  fc.tuple(frame, place).map(([at, to]) => edits.setMark(BODY, at, to)),
  fc.tuple(frame, place).map(([at, to]) => edits.setMark(BODY, at, { ...to, error: 0.7 }, { x: 1, y: 2 })),
  fc.tuple(frame, place).map(([at, to]) => edits.moveMark(BODY, at, to)),
  fc.tuple(frame, frame, place).map(([a, b, to]) => edits.setRest(BODY, Math.min(a, b), Math.max(a, b), to)),
  fc.tuple(found, fc.boolean()).map(([marks, replaces]) => edits.setFollowed(BODY, marks, replaces)),
  frame.map((at) => edits.removeMark(BODY, at)),
  frame.map((at) => edits.confirmMark(BODY, at)),
  fc.tuple(frame, fc.option(place)).map(([at, to]) => edits.setSecond(BODY, at, to)),
  fc
    .tuple(frame, fc.constantFrom('break' as const, 'none' as const, null))
    .map(([at, word]) => edits.setBreak(BODY, at, word)),
  fc.tuple(frame, frame).map(([a, b]) => edits.clearMarks(BODY, Math.min(a, b), Math.max(a, b))),
)
const manyEdits = fc.array(anyEdit, { minLength: 1, maxLength: 12 })

/** Returns a copy that shares nothing with its original. */
function copied(value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value
  if (Array.isArray(value)) return value.map(copied)
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, copied(one)]))
}

describe('edits of marks', () => {
  it('make the same by their patches as in place, and are taken back', () => {
    fc.assert(
      fc.property(manyEdits, (mutators) => {
        let document = full()
        for (const mutator of mutators) {
          const byPatch = edit(document, mutator)
          const inPlace = edit(document, (draft) => mutator(draft))
          expect(byPatch.document).toEqual(inPlace.document)
          const isChanged = JSON.stringify(document.bodies) !== JSON.stringify(byPatch.document.bodies)
          expect(byPatch.patch.length > 0).toBe(isChanged)
          expect(applyPatch(byPatch.document, byPatch.inverse)).toEqual(document)
          expect(checkInvestigation(JSON.parse(JSON.stringify(byPatch.document)))).toEqual(byPatch.document)
          document = byPatch.document
        }
      }),
    )
  })

  it('of a body that is not there change nothing', () => {
    const document = full()
    for (const mutator of [edits.setMark(id(99), 1, { x: 1, y: 2 }), edits.clearMarks(id(99))])
      expect(edit(document, mutator)).toMatchObject({ document, patch: [] })
  })

  it('leave thousands of marks as they are, in their order', () => {
    const many = Object.fromEntries(
      Array.from({ length: 3000 }, (_, at) => [2 * at, { x: at, y: 1, certainty: 0.5 }]),
    )
    const document = build(
      edits.addBody(BODY, { position: id(4), velocity: id(5) }),
      edits.setFollowed(BODY, many),
    )
    const before = document.bodies[BODY].marks
    const mutators = [
      edits.setMark(BODY, 1001, { x: 7, y: 8 }),
      edits.removeMark(BODY, 40),
      edits.setMark(BODY, 9000, { x: 1, y: 1 }),
    ]
    const { marks } = mutators.reduce((at, mutator) => edit(at, mutator).document, document).bodies[BODY]
    const expected = { ...before, 1001: { x: 7, y: 8, by: 'hand' }, 9000: { x: 1, y: 1, by: 'hand' } }
    delete (expected as Record<string, unknown>)[40]
    expect(marks).toEqual(expected)
    expect(Object.isFrozen(marks)).toBe(true)
    expect(marks[1000]).toBe(before[1000])
    expect(before[1001]).toBeUndefined()
  })
})

describe('the check of a document that a patch has changed', () => {
  const odd: fc.Arbitrary<unknown> = fc.oneof(
    fc.constant<Mark>({ x: 1, y: 2, by: 'hand' }),
    fc.constant<Mark>({ x: 1, y: 2, by: 'hand', until: 30 }),
    fc.constant({ x: 1, y: Number.POSITIVE_INFINITY, by: 'hand' }),
    fc.constant({ x: 1, by: 'hand' }),
    fc.constant({ x: 1, y: 2, by: 'follow' }),
    fc.constant({ x: 1, y: 2, by: 'hand', extra: true }),
    fc.constantFrom(7, 'x', null, []),
  )
  const key = fc.oneof(frame.map(String), fc.constantFrom('01', '-1', 'x', '1e3', '2000000'))
  const operation = fc.oneof(
    fc.record({
      op: fc.constant('add' as const),
      path: key.map((at) => `/bodies/${BODY}/marks/${at}`),
      value: odd,
    }),
    fc.record({
      op: fc.constant('replace' as const),
      path: fc.constantFrom('x', 'y', 'by', 'certainty').map((name) => `/bodies/${BODY}/marks/10/${name}`),
      value: fc.constantFrom(3, Number.NaN, 'hand', 'x'),
    }),
  )

  it.each(['01', '1e3', '-1', 'x', '2000000'])(
    'refuses a sound mark under %s, which is no frame',
    async (at) => {
      const before = checkInvestigation(full())
      const patch = [
        { op: 'add' as const, path: `/bodies/${BODY}/marks/${at}`, value: { x: 1, y: 2, by: 'hand' } },
      ]
      const checked = checkPatchedInSteps(before, applyPatch(before, patch), patch, async () => {})
      await expect(checked).rejects.toThrow(/must be marks keyed by frame/)
    },
  )

  it('finds what the check of the whole document finds', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(operation, { minLength: 1, maxLength: 4 }), async (patch) => {
        const before = checkInvestigation(edit(full(), edits.setRest(BODY, 20, 25, { x: 5, y: 5 })).document)
        let after: typeof before
        try {
          after = applyPatch(before, patch)
        } catch {
          return
        }
        // A copy that nobody has checked before.
        const copy = copied(after)
        const whole = (() => {
          try {
            checkInvestigation(copy)
            return 'sound'
          } catch (error) {
            return (error as Error).message
          }
        })()
        const parts = await checkPatchedInSteps(before, after, patch, async () => {}).then(
          () => 'sound',
          (error: Error) => error.message,
        )
        expect(parts).toBe(whole)
      }),
      { numRuns: 400 },
    )
  })
})

it('a patch that sets a mark of a body and then takes the body away is checked like any other', async () => {
  const before = checkInvestigation(full())
  const patch = [
    { op: 'remove', path: `/bodies/${id(3)}/marks/12` },
    ...edit(before, edits.removeBody(id(3))).patch,
  ] as Patch
  const after = applyPatch(before, patch)
  expect(await checkPatchedInSteps(before, after, patch, async () => {})).toEqual(after)
  expect(after.bodies).toEqual({})
})
