import { readTruth } from '@apokinema/demo'
import type { Locator, Page } from 'playwright-core'
import { drag, stagePlace } from './page.ts'

/** How a person who knows nothing measures a sample with what is proposed, action by action. */

/** A proposed reading: what it would be if it were taken. */
export interface ProposedReading {
  value: number
  error: number
}

/** Counts what a person does, and the time in which the computer is waited for. */
export class Hands {
  actions = 0
  /** Seconds in which nothing could be done but wait. */
  waited = 0

  constructor(
    readonly page: Page,
    readonly sample: string,
  ) {}

  /** Clicks something that can be clicked by now. */
  async click(target: Locator): Promise<void> {
    await this.wait(target)
    this.actions++
    await target.click()
  }

  /** Drags on the picture. */
  async drag(from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
    const place = await stagePlace(this.page, readTruth(this.sample))
    this.actions++
    await drag(this.page, place(from), place(to))
  }

  /** Types into a field. */
  async type(label: string, text: string): Promise<void> {
    const field = this.page.getByLabel(label)
    await this.wait(field)
    this.actions++
    await field.fill(text)
    await field.press('Enter')
  }

  private async wait(target: Locator): Promise<void> {
    const began = performance.now()
    await target.waitFor()
    this.waited += (performance.now() - began) / 1000
  }

  /** Follows what is proposed first. */
  async follow(): Promise<void> {
    await this.click(this.page.getByRole('button', { name: 'Follow this?' }))
    await this.followed()
  }

  private async followed(): Promise<void> {
    const began = performance.now()
    await this.page.locator('[data-follow]').waitFor({ state: 'detached' })
    this.waited += (performance.now() - began) / 1000
  }

  /** Draws along what the sample shows of known length, and tells that. */
  async scale(): Promise<void> {
    const { reference } = readTruth(this.sample)
    await this.click(this.button('Draw along something you know'))
    await this.drag(reference.ends[0], reference.ends[1])
    await this.type('How long is it really?', `${reference.length} m`)
  }

  button(name: string | RegExp): Locator {
    return this.page.getByRole('button', { name })
  }

  /** Opens Graphs, and returns what is proposed there, by time. */
  async readings(): Promise<ProposedReading[]> {
    await this.click(this.page.getByRole('link', { name: 'Graphs', exact: true }))
    const readings = this.page.locator('[data-proposed-reading]')
    await this.wait(readings.first())
    return readings.evaluateAll((all) =>
      all.map((one) => ({
        value: Number((one as HTMLElement).dataset.value),
        error: Number((one as HTMLElement).dataset.error),
      })),
    )
  }
}

/** What is known of a sample, and how it is read from the clip that has just been opened. */
export interface Measuring {
  sample: string
  /** Its name among the samples. */
  title: string
  truth: number
  /** Largest relative error. */
  within: number
  most: number
  measure: (hands: Hands) => Promise<ProposedReading>
}

const constants = (sample: string) => readTruth(sample).constants

/** Follows, tells the scale, and reads the first proposed fit, or the longest. */
const plain = async (hands: Hands) => {
  await hands.follow()
  await hands.scale()
  return (await hands.readings())[0]
}

const withAxes = async (hands: Hands) => {
  await hands.follow()
  await hands.scale()
  await hands.click(hands.button('Take these axes'))
  return (await hands.readings())[0]
}

const swing = constants('swing-boat')

/** The samples, and how each is read by what is proposed. */
export const MEASURED: readonly Measuring[] = [
  { sample: 'net-float', title: 'Net float', truth: -9.81, within: 0.01, most: 6, measure: plain },
  {
    sample: 'barrel-on-plank',
    title: 'Barrel on a plank',
    truth: constants('barrel-on-plank').acceleration,
    within: 0.015,
    most: 6,
    measure: withAxes,
  },
  {
    sample: 'fish-sledge',
    title: 'Fish sledge',
    truth: -constants('fish-sledge').deceleration,
    within: 0.015,
    most: 6,
    measure: plain,
  },
  {
    sample: 'crane-pebble',
    title: 'Crane pebble',
    truth: -9.81,
    within: 0.01,
    most: 6,
    measure: async (hands) => {
      await hands.click(hands.button('Use 240 /s'))
      return plain(hands)
    },
  },
  {
    sample: 'paper-lantern',
    title: 'Paper lantern',
    truth: constants('paper-lantern').angularFrequency,
    within: 0.01,
    most: 6,
    measure: plain,
  },
  {
    sample: 'swing-boat',
    title: 'Swing boat',
    truth: Math.sqrt(swing.g / swing.length),
    within: 0.02,
    most: 6,
    measure: withAxes,
  },
  {
    sample: 'bead-in-syrup',
    title: 'Bead in syrup',
    truth: -constants('bead-in-syrup').terminalSpeed,
    within: 0.02,
    most: 6,
    measure: plain,
  },
  { sample: 'fender', title: 'Boat fender', truth: -9.81, within: 0.02, most: 6, measure: plain },
  {
    // Two bodies on a table that is seen at an angle: the speed with which the large block meets the other.
    sample: 'ice-blocks',
    title: 'Ice blocks',
    truth: constants('ice-blocks').velocityLargeBefore,
    within: 0.02,
    most: 9,
    measure: async (hands) => {
      const { corners, width, height } = readTruth('ice-blocks').plane!
      await hands.click(hands.button('Seen at an angle? Place four corners'))
      await hands.drag(corners[0], corners[1])
      await hands.drag(corners[2], corners[3])
      await hands.type('Lower side', `${width} m`)
      await hands.type('Other side', `${height} m`)
      await hands.follow()
      await hands.follow()
      await hands.click(hands.button('Take these axes'))
      const readings = await hands.readings()
      return { ...readings[0], value: Math.abs(readings[0].value) }
    },
  },
  {
    // A camera that pans and zooms out.
    sample: 'hoisted-lantern',
    title: 'Hoisted lantern',
    truth: constants('hoisted-lantern').acceleration,
    within: 0.03,
    most: 9,
    measure: async (hands) => {
      await hands.click(hands.button('Take what the camera did'))
      return plain(hands)
    },
  },
]
