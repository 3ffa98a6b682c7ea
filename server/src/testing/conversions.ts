import { readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { API, type ConversionAnswer, type FootageKind } from '@apokinema/core/api'
import { expect } from 'vitest'
import { clientOf, uuid } from './client.ts'
import type { Movies } from './movies.ts'
import type { TestServer } from './testServer.ts'

/** Hands films over to a server, which converts them. */
export class Conversions {
  private readonly client: ReturnType<typeof clientOf>

  /** @param movies where the films are that are handed over */
  constructor(
    private readonly server: TestServer,
    private readonly movies: Movies,
  ) {
    this.client = clientOf(server)
  }

  /** Hands a file over for conversion. */
  async ask(name: string, kind: FootageKind = 'video', rate?: string) {
    const { id } = await this.client.make()
    const footage = uuid()
    const about = { kind, name, ...(rate ? { rate } : {}) }
    const answer = await this.client.claim(id, footage, this.movies.read(name), about)
    expect(answer.status).toBe(201)
    return { id, footage, path: API.footage(id, footage) }
  }

  /** Waits until the conversion of an investigation is in one of some states. */
  async settled(
    id: string,
    states: ConversionAnswer['state'][] = ['done', 'failed', 'cancelled'],
  ): Promise<void> {
    await expect
      .poll(async () => (await this.client.conversion(id))?.state, { timeout: 60_000, interval: 100 })
      .toSatisfy((state: ConversionAnswer['state']) => states.includes(state))
  }

  /** Converts a file; returns the path of a copy of what came of it. */
  async converted(name: string, kind: FootageKind = 'video', rate?: string): Promise<string> {
    const { id, path } = await this.ask(name, kind, rate)
    await this.settled(id)
    const state = await this.client.conversion(id)
    expect(state).toMatchObject({ state: 'done', progress: 1, problem: null, name })
    const answer = await this.client.send('GET', path)
    expect(answer.headers.get('content-type')).toBe('video/mp4')
    const made = this.movies.path(`made-${name}.mp4`)
    writeFileSync(made, Buffer.from(await answer.arrayBuffer()))
    return made
  }

  /** Hands over a file that can't be converted; returns what is told of it. */
  async failed(name: string, kind: FootageKind = 'video', rate?: string): Promise<ConversionAnswer> {
    const { id, path } = await this.ask(name, kind, rate)
    await this.settled(id)
    expect((await this.client.send('GET', path)).status).toBe(404)
    return (await this.client.conversion(id))!
  }

  /** Returns the folders of conversions that are under way, each with its server's. */
  workFolders(): [string, string][] {
    const incoming = join(this.server.footageFolder, 'incoming')
    return readdirSync(incoming).flatMap((one) =>
      readdirSync(join(incoming, one)).map((name): [string, string] => [one, name]),
    )
  }
}
