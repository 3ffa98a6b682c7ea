import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { API } from '@apokinema/core/api'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import { clientOf, uuid } from '../testing/client.ts'
import { Conversions } from '../testing/conversions.ts'
import { Gate } from '../testing/gate.ts'
import { Movies } from '../testing/movies.ts'
import { type TestServer, testServer } from '../testing/testServer.ts'

const movies = new Movies()
let server: TestServer
let client: ReturnType<typeof clientOf>
let conversions: Conversions

beforeAll(async () => {
  server = await testServer()
  client = clientOf(server)
  conversions = new Conversions(server, movies)
})
afterAll(async () => {
  await server?.stop()
  movies.remove()
})

describe('the tool that converts', () => {
  const gate = new Gate()
  afterAll(() => gate.remove())

  it('has few rights and little of the server’s own, and what it says does not tell where files lie', async () => {
    movies.make('told.avi', '-c:v mjpeg -frames:v 3')
    const told = '$last $(id -u) $(ulimit -c) $(ulimit -d) $(env | cut -d= -f1 | tr "\\n" ,)'
    gate.replace(`for last; do :; done; echo "${told}" >&2; exit 1`)
    const { technical, problem } = await conversions.failed('told.avi')
    gate.open()
    expect(problem).toMatch(/damaged, or in a form that is not known here/)
    const [, file, user, core, memory, names] = /^(\S+) (\d+) (\S+) (\S+) (\S+)$/.exec(technical!)!
    expect(file).toBe('made.mp4')
    expect(user).toBe(String(process.getuid!() === 0 ? 61_170 : process.getuid!()))
    expect(core).toBe('0')
    expect(Number(memory) * 1024).toBeLessThan(1.3e9)
    expect(
      names
        .split(',')
        .filter((name) => !['PWD', 'OLDPWD', 'SHLVL', '_', ''].includes(name))
        .sort(),
    ).toEqual(['LC_ALL', 'PATH'])
  })
})

describe('two servers on one database', () => {
  const gate = new Gate()
  let other: TestServer
  beforeAll(async () => {
    const { databaseUrl, footageFolder } = server.services.config
    other = await testServer({ databaseUrl, footageFolder })
  })
  afterEach(() => gate.open())
  afterAll(async () => {
    gate.remove()
    await other?.stop()
  })

  it('leave each other’s conversions alone, and either stops what the other runs', async () => {
    movies.make('both.avi', '-c:v mjpeg -frames:v 7')
    gate.close()
    const { id } = await conversions.ask('both.avi')
    await conversions.settled(id, ['running'])
    const third = await testServer({
      databaseUrl: server.services.config.databaseUrl,
      footageFolder: server.services.config.footageFolder,
    })
    expect(await client.conversion(id)).toMatchObject({ state: 'running' })
    expect(conversions.workFolders()).toHaveLength(1)
    await third.stop()
    expect(await client.conversion(id)).toMatchObject({ state: 'running' })
    const { server_id } = await server.services
      .database('conversions')
      .where({ investigation_id: id })
      .first()
    const idle = server_id === server.services.registry.id ? other : server
    expect((await clientOf(idle).send('DELETE', API.conversion(id))).status).toBe(204)
    expect(await client.conversion(id)).toMatchObject({ state: 'cancelled' })
    await expect.poll(() => conversions.workFolders(), { timeout: 30_000 }).toEqual([])
  })

  it('take over what one that has ended was at, and tidy what it left', async () => {
    movies.make('left.avi', '-c:v mjpeg -frames:v 9')
    gate.close()
    const { id, path } = await conversions.ask('left.avi')
    await conversions.settled(id, ['running'])
    // As a killed one leaves it: signed in a while ago, its work half done.
    const { database, blobs, registry } = server.services
    const ended = uuid()
    await database('servers').insert({ id: ended, seen_at: new Date(Date.now() - 60_000) })
    await database('conversions').where({ investigation_id: id }).update({ server_id: ended })
    const leftBehind = join(server.footageFolder, 'incoming', ended)
    mkdirSync(leftBehind)
    writeFileSync(join(leftBehind, 'half'), 'half')
    gate.open()
    await conversions.settled(id)
    expect(await client.conversion(id)).toMatchObject({ state: 'done', problem: null })
    expect((await client.send('GET', path, undefined, { Range: 'bytes=0-9' })).status).toBe(206)
    await blobs.tidy(await registry.present())
    expect(existsSync(leftBehind)).toBe(false)
    expect(readdirSync(join(server.footageFolder, 'incoming'))).toContain(registry.id)
  })
})

describe('a conversion that takes long', () => {
  const gate = new Gate()
  afterEach(() => gate.open())
  afterAll(() => gate.remove())

  it('and is killed can be tried again', async () => {
    // Unlike any film that was converted before.
    movies.make('long.avi', '-c:v mjpeg -frames:v 20')
    gate.close()
    const { id, path } = await conversions.ask('long.avi')
    await conversions.settled(id, ['running'])
    const children = () =>
      execFileSync('ps', ['--ppid', String(process.pid), '-o', 'pid=,args='], { encoding: 'utf8' })
        .split('\n')
        .filter((line) => line.includes('made.mp4'))
        .map((line) => Number.parseInt(line, 10))
    await expect.poll(() => children().length, { timeout: 30_000 }).toBe(1)
    process.kill(children()[0], 'SIGKILL')
    await conversions.settled(id)
    gate.open()
    expect(await client.conversion(id)).toMatchObject({
      state: 'failed',
      problem: expect.stringMatching(/ended from outside/),
    })
    expect((await client.send('POST', API.conversion(id))).status).toBe(204)
    await conversions.settled(id)
    expect((await client.send('GET', path, undefined, { Range: 'bytes=0-9' })).status).toBe(206)
  })

  it('and is cancelled stops and leaves nothing', async () => {
    movies.make('cancel.avi', '-c:v mjpeg -t 0.4')
    gate.close()
    const { id, path } = await conversions.ask('cancel.avi')
    await conversions.settled(id, ['running'])
    expect((await client.send('DELETE', API.conversion(id))).status).toBe(204)
    expect((await client.conversion(id))!.state).toBe('cancelled')
    await expect.poll(() => conversions.workFolders(), { timeout: 30_000 }).toEqual([])
    expect((await client.send('GET', path)).status).toBe(404)
  })

  it('is one of two at a time, a third waits; a restarted server begins anew what it was at', async () => {
    const names = ['a.avi', 'b.avi', 'c.avi']
    for (const [i, name] of names.entries()) movies.make(name, `-c:v mjpeg -frames:v ${10 + i}`)
    gate.close()
    const asked = []
    for (const name of names) asked.push(await conversions.ask(name))
    await conversions.settled(asked[1].id, ['running'])
    expect(await client.conversion(asked[2].id)).toMatchObject({ state: 'waiting', ahead: 1 })
    await server.restart()
    gate.open()
    for (const { id, path } of asked) {
      await conversions.settled(id)
      expect((await client.send('GET', path, undefined, { Range: 'bytes=0-9' })).status).toBe(206)
    }
  })
})
