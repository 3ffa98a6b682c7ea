import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Browser, Page } from 'playwright-core'
import { newWindow } from './browser.ts'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

interface Axe {
  run(
    options: object,
  ): Promise<{ violations: { id: string; nodes: { html: string; failureSummary: string }[] }[] }>
}

/**
 * Returns what breaks WCAG 2.1 A and AA on a page, as far as a program can tell, in the light and in the dark theme.
 *
 * @param ready selector of what is there once the page is complete
 * @param act what is done first, on the complete page
 */
export async function accessibilityFaults(
  browser: Browser,
  url: string,
  ready: string,
  act: (view: Page) => Promise<void> = async () => {},
): Promise<string[]> {
  // Without the content policy, which rightly refuses a foreign script.
  const context = await newWindow(browser, { bypassCSP: true })
  const view = await context.newPage()
  await view.goto(url)
  await view.locator(ready).first().waitFor()
  await act(view)
  await view.addScriptTag({ content: axe })
  const faults: string[] = []
  for (const colorScheme of ['light', 'dark'] as const) {
    await view.emulateMedia({ colorScheme })
    await view.waitForFunction((scheme) => document.documentElement.classList.contains(scheme), colorScheme)
    const found = await view.evaluate(async () => {
      const { violations } = await (window as unknown as { axe: Axe }).axe.run({
        runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'],
      })
      return violations.flatMap(({ id, nodes }) =>
        nodes.map(({ html, failureSummary }) => `${id}: ${html.slice(0, 160)} ${failureSummary}`),
      )
    })
    faults.push(...found.map((fault) => `${colorScheme}: ${fault}`))
  }
  await context.close()
  return faults
}
