import { deflateRawSync } from 'node:zlib'
import { fromBuffer } from 'yauzl'

/** Packs a ZIP by hand, so that its entries can have any name and claim any size. */
export function zip(entries: { name: string; body: Buffer; claims?: number }[]): Buffer {
  const parts: Buffer[] = []
  const listed: Buffer[] = []
  let offset = 0
  for (const { name, body, claims = body.length } of entries) {
    const packed = deflateRawSync(body)
    const named = Buffer.from(name)
    const common = Buffer.alloc(26)
    common.writeUInt16LE(20, 0)
    common.writeUInt16LE(8, 4)
    common.writeUInt32LE(crc32(body), 10)
    common.writeUInt32LE(packed.length, 14)
    common.writeUInt32LE(claims, 18)
    common.writeUInt16LE(named.length, 22)
    parts.push(Buffer.from('PK\u0003\u0004', 'latin1'), common, named, packed)
    const end = Buffer.alloc(14)
    end.writeUInt32LE(offset, 10)
    listed.push(Buffer.from('PK\u0001\u0002\u0014\u0000', 'latin1'), common, end, named)
    offset += 30 + named.length + packed.length
  }
  const list = Buffer.concat(listed)
  const end = Buffer.alloc(22)
  end.write('PK\u0005\u0006', 'latin1')
  end.writeUInt16LE(entries.length, 8)
  end.writeUInt16LE(entries.length, 10)
  end.writeUInt32LE(list.length, 12)
  end.writeUInt32LE(offset, 16)
  return Buffer.concat([...parts, list, end])
}

function crc32(body: Buffer): number {
  let sum = 0xffffffff
  for (const byte of body) {
    sum ^= byte
    for (let bit = 0; bit < 8; bit++) sum = (sum >>> 1) ^ (sum & 1 ? 0xedb88320 : 0)
  }
  return (sum ^ 0xffffffff) >>> 0
}

/** Returns the entries of a ZIP by name. */
export function entriesOf(zip: Buffer): Promise<Map<string, Buffer>> {
  return new Promise((resolve, reject) => {
    fromBuffer(zip, { lazyEntries: true }, (error, file) => {
      if (error || !file) return reject(error)
      const entries = new Map<string, Buffer>()
      file.on('entry', (entry) => {
        file.openReadStream(entry, (failed, stream) => {
          if (failed || !stream) return reject(failed)
          const parts: Buffer[] = []
          stream.on('data', (part: Buffer) => parts.push(part))
          stream.on('end', () => {
            entries.set(entry.fileName, Buffer.concat(parts))
            file.readEntry()
          })
        })
      })
      file.on('end', () => resolve(entries))
      file.readEntry()
    })
  })
}
