/** Longest wait for pictures before printing, in milliseconds. */
const MOST_WAIT = 20_000

/** Opens the browser's print dialog once all pictures of the report are drawn. */
export async function printReport(): Promise<void> {
  window.dispatchEvent(new Event('beforeprint'))
  const start = performance.now()
  const isReady = () => document.querySelector('.paper [data-drawn="false"], .paper .chrono .note') === null
  while (!isReady() && performance.now() - start < MOST_WAIT)
    await new Promise((resolve) => requestAnimationFrame(resolve))
  window.print()
}
