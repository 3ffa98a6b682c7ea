import { analyse, readingOf } from '@apokinema/core/analysis'
import { edits, type Investigation, type Mutator } from '@apokinema/core/investigation'
import { measurement } from '@apokinema/core/units'
import { measuredSample, readTruth, sampleIds } from '@apokinema/demo'
import type { Page } from 'playwright-core'

/** What tests of the report have in common. */

/** Ids of the stretch and the fit on the flight of the net float. */
const STRETCH = crypto.randomUUID()
const FIT = crypto.randomUUID()

/** Returns the work up to a fitted parabola on the flight of the net float. */
export function fittedFloat(): Mutator[] {
  const ids = sampleIds('net-float')
  const { position } = ids.bodies[0]
  const flying = readTruth('net-float').bodies[0].frames.filter(({ phase }) => phase === 'flying')
  return [
    ...measuredSample('net-float', ids, 11),
    edits.changeGraph(position, { quantity: 'y' }),
    edits.addStretch(STRETCH, position, flying[0].frame, flying[flying.length - 1].frame),
    edits.addFit(FIT, STRETCH, 'uniform-acceleration'),
  ]
}

/** Returns the page of the report, with its head. */
export const paperOf = (page: Page) => page.getByRole('article', { name: 'Page' })
/** Returns what is written in. */
export const editorOf = (page: Page) => page.getByRole('textbox', { name: 'Report', exact: true })

/** Returns a text with plain spaces. */
export const plain = (text: string) => text.replace(/\s+/g, ' ').replace(/[\u200b\u2060\ufeff]/g, '')

/** Returns the acceleration of the fit as it is written. */
export function accelerationIn(document: Investigation): string {
  const { value, error, unit } = readingOf(analyse(document).fit(FIT)!, 'acceleration')!
  return plain(measurement(value, error, unit))
}

/** Types words with the live acceleration behind them, from the menu that "=" opens. */
export async function typeAcceleration(page: Page, words: string): Promise<void> {
  await page.keyboard.type(`${words}=accel`)
  await page
    .getByRole('option', { name: /^Acceleration/ })
    .first()
    .waitFor()
  await page.keyboard.press('Enter')
}
