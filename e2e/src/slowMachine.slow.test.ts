import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { CLIPS } from './clips.ts'
import { goToFrame, showFrames } from './page.ts'
import { pageTests } from './pageTests.ts'
import { openFile } from './work.ts'

const given = pageTests()

describe('on a machine eight times slower, where numbers come late', () => {
  it.each(CLIPS)('jumping by its number: $file', async ({ file }) => {
    const page = await given.window.newPage()
    await openFile(given.server, page, join(import.meta.dirname, '../clips', file))
    const devtools = await given.window.newCDPSession(page)
    await devtools.send('Emulation.setCPUThrottlingRate', { rate: 8 })
    for (let jump = 0; jump < 8; jump++) {
      await goToFrame(page, 120)
      await goToFrame(page, 131)
    }
    // The number that the field may still show: typed once more, it is meant.
    await goToFrame(page, 131)
    expect((await showFrames(page, [{ to: 131 }])).map(({ bars }) => bars)).toEqual([131])
    await page.close()
  })
})
