import { fitColumn } from '../fitting/index.ts'
import { edit, edits, type Investigation } from '../investigation/index.ts'
import { FitError } from '../regression/index.ts'
import type { Readout } from '../time/index.ts'
import { analyse } from './analyse.ts'

/**
 * By what share a sensor's read-out changes the uniform acceleration that is fitted to all marks of a
 * body, when it is not corrected: 0.06 says that it reads 6 % high. The component with the larger
 * acceleration is judged. Null with fewer than four marks.
 */
export function readoutEffect(investigation: Investigation, body: string, readout: Readout): number | null {
  const accelerations = ([null, readout] as const).map((stated) => {
    const table = analyse(edit(investigation, edits.setReadout(stated)).document).table(body)
    if (table.frames.length < 4) return null
    const range = { from: table.frames[0], to: table.frames.at(-1)! }
    const along = (quantity: string) =>
      fitColumn(table, quantity, range, { model: 'uniform-acceleration' }).reading.value
    try {
      return [along('x'), along('y')]
    } catch (error) {
      if (error instanceof FitError) return null
      throw error
    }
  })
  const [plain, corrected] = accelerations
  if (!plain || !corrected) return null
  const main = Math.abs(corrected[0]) > Math.abs(corrected[1]) ? 0 : 1
  return corrected[main] === 0 ? null : plain[main] / corrected[main] - 1
}
