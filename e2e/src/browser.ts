import { type Browser, type BrowserContext, type BrowserContextOptions, chromium } from 'playwright-core'

/** Headless, without anything that would ask a network. */
export const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--force-color-profile=srgb',
]

/** Debian's Chromium, headless. */
export function launchBrowser(): Promise<Browser> {
  return chromium.launch({ executablePath: '/usr/bin/chromium', args: FLAGS, timeout: 120_000 })
}

/** A browser context as a laptop's window; patient, since a shared machine can be slow for a while. */
export async function newWindow(
  browser: Browser,
  options: BrowserContextOptions = {},
): Promise<BrowserContext> {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, ...options })
  context.setDefaultTimeout(90_000)
  return context
}
