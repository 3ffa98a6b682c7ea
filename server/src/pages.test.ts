import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import Koa from 'koa'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { pages } from './pages.ts'

/** The page as it is sent for an address, from a folder of built pages. */

let folder: string
let origin: string
let stop: () => void
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'apokinema-pages-'))
  writeFileSync(join(folder, 'index.html'), '<head><meta nonce="__NONCE__"></head><body>')
  const app = new Koa()
  app.use((context, next) => {
    context.state.nonce = 'once'
    return next()
  })
  app.use(pages(folder))
  const server = app.listen(0, '127.0.0.1')
  await new Promise((resolve) => server.once('listening', resolve))
  origin = `http://127.0.0.1:${(server.address() as { port: number }).port}`
  stop = () => server.close()
})
afterAll(() => {
  stop?.()
  rmSync(folder, { recursive: true, force: true })
})

const pageAt = async (path: string) => (await fetch(origin + path)).text()
const linkedAt = async (path: string) =>
  [...(await pageAt(path)).matchAll(/<link rel="modulepreload" crossorigin href="(.+?)" nonce="once">/g)].map(
    ([, file]) => file,
  )

describe('the page', () => {
  it('is sent with this response’s nonce, also where nothing is known of what addresses need', async () => {
    expect(await pageAt('/series/1')).toBe('<head><meta nonce="once"></head><body>')
  })

  it('has links to the code that its address needs, and to no other', async () => {
    const preloads = {
      series: ['/assets/series.js'],
      'series/report': ['/assets/series.js', '/assets/report.js'],
    }
    writeFileSync(join(folder, 'preloads.json'), JSON.stringify(preloads))
    expect(await linkedAt('/series/1')).toEqual(['/assets/series.js'])
    expect(await linkedAt('/series/1?in-step=2,3')).toEqual(['/assets/series.js'])
    expect(await linkedAt('/series/1/report')).toEqual(['/assets/series.js', '/assets/report.js'])
    expect(await linkedAt('/series/1/other')).toEqual(['/assets/series.js'])
    for (const path of ['/', '/series', '/series/', '/record', '/constructor/1', '/__proto__/1/x'])
      expect(await linkedAt(path)).toEqual([])
  })
})
