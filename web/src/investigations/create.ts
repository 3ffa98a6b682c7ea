import { edit, edits, type Footage, newInvestigation } from '@apokinema/core/investigation'
import { frameCount } from '@apokinema/core/time'
import { v4 as uuid } from 'uuid'
import { client } from '../api/client.ts'
import { tell } from '../common/messages.tsx'
import { waitingFiles } from '../document/shelf.ts'
import { openInWorker } from '../footage/clip.ts'
import { FootageError } from '../footage/FootageError.ts'
import { uploadWaiting } from '../footage/uploads.ts'

/** A title made from a file's name. */
function titleOf(name: string): string {
  const plain = name
    .replace(/\.[^.]+$/, '')
    .replace(/[_\s-]+/g, ' ')
    .replace(/\p{Cc}/gu, '')
    .trim()
    .slice(0, 120)
  return plain ? plain[0].toUpperCase() + plain.slice(1) : 'New investigation'
}

/**
 * Makes an investigation from a video file and gives its id. The file is looked at first, so that one
 * that can't be used leaves nothing behind; its upload goes on by itself afterwards.
 */
export async function createFromFile(file: File): Promise<string> {
  const { footageBytes } = await client.limits()
  if (file.size > footageBytes)
    throw new FootageError(
      `This video is larger than the ${Math.round(footageBytes / 1e6)} MB that this server takes. Cut it to the motion and try again; nothing was changed.`,
    )
  const clip = await openInWorker(file)
  const { missing, flip, ...facts } = clip.facts
  clip.close()
  if (missing > 0)
    tell(
      `This video is cut off: its last ${missing} frames are missing. The ${frameCount(facts.ticks)} before them can be used.`,
    )
  const id = uuid()
  const name = file.name.replace(/\p{Cc}/gu, '').slice(-255) || 'video'
  const footage: Footage = { id: uuid(), name, size: file.size, converted: false, ...facts }
  const title = titleOf(file.name)
  const { version } = await client.create({ id, title })
  const { patch } = edit(newInvestigation(title), edits.setFootage(footage))
  await client.edit(id, { key: uuid(), base: version, patch })
  await waitingFiles.put({ investigation: id, footage, file })
  void uploadWaiting()
  return id
}

/** Makes an investigation from a sample and gives its id. */
export async function createFromSample(sample: { id: string; title: string }): Promise<string> {
  const id = uuid()
  await client.create({ id, title: sample.title, sample: sample.id })
  return id
}
