import { createHash, randomUUID } from 'node:crypto'
import { createReadStream, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { API } from '@apokinema/core/api'
import type { ServerProcess } from './serverProcess.ts'

/** Uploads a file of a gigabyte by the tus protocol and makes it footage; tells the server's largest memory. */
export async function benchUpload(
  server: ServerProcess,
  note: (what: string, value: string) => void,
): Promise<void> {
  const size = 1_000_000_000
  const path = join(tmpdir(), 'apokinema-bench-upload.mp4')
  const head = Buffer.concat([Buffer.from([0, 0, 0, 16]), Buffer.from('ftypisom'), Buffer.alloc(4)])
  writeFileSync(path, head)
  truncateSync(path, size)
  const memory = () =>
    Number(/VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${server.serverPid}/status`, 'utf8'))![1]) / 1024
  const hash = createHash('sha256')
  for await (const part of createReadStream(path)) hash.update(part as Buffer)
  const sha256 = hash.digest('hex')
  const headers = { Origin: server.origin, 'Tus-Resumable': '1.0.0' }
  const id = randomUUID()
  await fetch(server.origin + API.investigations, {
    method: 'POST',
    headers: { ...headers, 'Content-Type': 'application/json' },
    body: JSON.stringify({ id, title: 'Large' }),
  })
  const before = memory()
  const began = performance.now()
  const begun = await fetch(server.origin + API.uploads, {
    method: 'POST',
    headers: { ...headers, 'Upload-Length': String(size) },
  })
  const address = begun.headers.get('location')!
  await fetch(server.origin + address, {
    method: 'PATCH',
    headers: { ...headers, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
    body: Readable.toWeb(createReadStream(path)) as ReadableStream,
    duplex: 'half',
  } as RequestInit)
  const arrived = performance.now()
  const taken = await fetch(server.origin + API.footage(id, randomUUID()), {
    method: 'PUT',
    headers: { ...headers, 'Content-Type': 'application/json' },
    body: JSON.stringify({ upload: address.split('/').at(-1), sha256, name: 'large.mp4', kind: 'as-it-is' }),
  })
  if (taken.status !== 201) throw new Error(`The large file was refused: ${await taken.text()}`)
  const seconds = (milliseconds: number) => `${(milliseconds / 1000).toFixed(1)} s`
  note('upload of 1 GB on loopback', seconds(arrived - began))
  note('… summed up and taken in', seconds(performance.now() - arrived))
  note(
    'largest memory of the server, before and after it',
    `${before.toFixed(0)} MB, ${memory().toFixed(0)} MB`,
  )
  rmSync(path)
}
