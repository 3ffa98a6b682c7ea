import { edits } from '@apokinema/core/investigation'
import { printedBlocks } from '@apokinema/words/report/changes'
import { showReport } from '@apokinema/words/report/showReport'
import type { ReportSource } from './source.ts'

/** Longest wait for pictures before printing, in milliseconds. */
const MOST_WAIT = 20_000

const nextFrame = () => new Promise((resolve) => requestAnimationFrame(resolve))

/** Opens the browser's print dialog once all pictures of the report are drawn. */
export async function printReport(): Promise<void> {
  window.dispatchEvent(new Event('beforeprint'))
  const start = performance.now()
  const isReady = () => document.querySelector('.paper [data-drawn="false"], .paper .chrono .note') === null
  while (!isReady() && performance.now() - start < MOST_WAIT) await nextFrame()
  // Drawn pictures may have moved where pages begin.
  await nextFrame()
  await nextFrame()
  window.print()
}

/** Notes what the report shows as it leaves: what changes from now on is told. */
export function notePrinted({ session, subject }: ReportSource): void {
  const at = new Date().toISOString()
  session.edit(
    'note what was printed',
    edits.setReport({ printed: { at, blocks: printedBlocks(showReport(subject())) } }),
  )
}
