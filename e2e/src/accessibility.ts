import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Browser } from 'playwright-core'
import { newWindow } from './browser.ts'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

interface Axe {
  run(
    options: object,
  ): Promise<{ violations: { id: string; nodes: { html: string; failureSummary: string }[] }[] }>
}

/**
 * Returns what breaks WCAG 2.1 A and AA on a page, as far as a program can tell.
 *
 * @param ready selector of what is there once the page is complete
 */
export async function accessibilityFaults(browser: Browser, url: string, ready: string): Promise<string[]> {
  // Without the content policy, which rightly refuses a foreign script.
  const context = await newWindow(browser, { bypassCSP: true })
  const view = await context.newPage()
  await view.goto(url)
  await view.locator(ready).first().waitFor()
  await view.addScriptTag({ content: axe })
  const faults = await view.evaluate(async () => {
    const { violations } = await (window as unknown as { axe: Axe }).axe.run({
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'],
    })
    return violations.flatMap(({ id, nodes }) =>
      nodes.map(({ html, failureSummary }) => `${id}: ${html.slice(0, 160)} ${failureSummary}`),
    )
  })
  await context.close()
  return faults
}
