import {
  type Browser,
  type BrowserContext,
  type BrowserContextOptions,
  chromium,
  type LaunchOptions,
} from 'playwright-core'

/** Debian's Chromium without anything that would ask a network. */
const CHROMIUM: LaunchOptions & { args: string[] } = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--force-color-profile=srgb',
  ],
  timeout: 120_000,
}

/**
 * The headless shell: Chromium without windows of its own. A page in it takes half of the time in which Chromium also
 * loads what would stand around the page.
 */
export const HEADLESS_SHELL: LaunchOptions = {
  ...CHROMIUM,
  executablePath: '/usr/bin/chromium-headless-shell',
}

/** Launches the whole of Chromium, headless, with further flags. */
export function launchBrowser(...flags: string[]): Promise<Browser> {
  return chromium.launch({ ...CHROMIUM, args: [...CHROMIUM.args, ...flags] })
}

/**
 * Returns a browser context as a laptop's window, of somebody who wants no moving menus; patient, since a shared machine can be
 * slow for a while.
 */
export async function newWindow(
  browser: Browser,
  options: BrowserContextOptions = {},
): Promise<BrowserContext> {
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    reducedMotion: 'reduce',
    ...options,
  })
  context.setDefaultTimeout(90_000)
  return context
}
