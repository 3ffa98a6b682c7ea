import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Browser, type BrowserContext, chromium } from 'playwright-core'

const FLAGS = [
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
  return chromium.launch({ executablePath: '/usr/bin/chromium', args: FLAGS })
}

/** A context with a profile of its own, as a person's browser has: what it keeps survives the browser's end. */
export function launchProfile(
  profile = mkdtempSync(join(tmpdir(), 'apokinema-profile-')),
): Promise<BrowserContext> {
  return chromium.launchPersistentContext(profile, {
    executablePath: '/usr/bin/chromium',
    args: FLAGS,
    viewport: { width: 1280, height: 800 },
  })
}
