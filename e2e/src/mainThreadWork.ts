import type { Page } from 'playwright-core'

/** Part of an event of Chromium's trace; times in microseconds. */
interface TraceEvent {
  name: string
  ph: string
  pid: number
  tid: number
  ts: number
  dur?: number
  /** The same on the clock of the thread, which stands while another has the processor. */
  tts?: number
  tdur?: number
  args: { data?: { type?: string } }
}

/** Milliseconds that the page's main thread works for a key. */
interface KeyWork {
  /** As the person at the keyboard has it: also while other programs have the processor. */
  passed: number
  /** On the processor. */
  busy: number
}

/**
 * Presses keys, and returns the work of the page's main thread for each: from the key's arrival to the end of the first frame
 * after it, without the time in which the thread waits for the screen's next beat, which says nothing about the page.
 */
export async function workForKeys(page: Page, press: () => Promise<void>): Promise<KeyWork[]> {
  const devtools = await page.context().newCDPSession(page)
  const events: TraceEvent[] = []
  devtools.on('Tracing.dataCollected', ({ value }) => events.push(...(value as unknown as TraceEvent[])))
  await devtools.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: { includedCategories: ['devtools.timeline', 'disabled-by-default-devtools.timeline'] },
  })
  await press()
  const complete = new Promise((resolve) => devtools.once('Tracing.tracingComplete', resolve))
  await devtools.send('Tracing.end')
  await complete
  await devtools.detach()

  const isKey = ({ name, args }: TraceEvent) => name === 'EventDispatch' && args.data?.type === 'keydown'
  const key = events.find(isKey)
  const main = events.filter(({ ph, pid, tid }) => ph === 'X' && pid === key?.pid && tid === key.tid)
  const inTime = (pick: (event: TraceEvent) => boolean) =>
    main
      .filter(pick)
      .map(({ ts, dur = 0, tts = 0, tdur = 0 }) => ({ start: ts, end: ts + dur, clock: [tts, tts + tdur] }))
      .sort((a, b) => a.start - b.start)
  const tasks = inTime(({ name }) => name === 'RunTask')
  const frames = inTime(({ name }) => name === 'Commit')
  return inTime(isKey).flatMap(({ start, clock }) => {
    const frame = frames.find((other) => other.start > start)
    if (!frame) return []
    const worked = tasks.map((task) => Math.min(task.end, frame.end) - Math.max(task.start, start))
    return [
      {
        passed: worked.reduce((sum, time) => sum + Math.max(0, time), 0) / 1000,
        busy: (frame.clock[1] - clock[0]) / 1000,
      },
    ]
  })
}
