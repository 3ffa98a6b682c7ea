import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { ListedSample } from '@apokinema/core/api'
import type { Footage } from '@apokinema/core/investigation'
import { Problem } from '../problem.ts'

/** A sample in its folder: texts of the list, and facts of its footage. */
export interface StoredSample extends ListedSample {
  footage: Omit<Footage, 'id'>
  /** Position in the list. */
  order: number
  folder: string
}

/** Returns the samples in a folder, each in a subfolder with sample.json, footage.mp4 and poster.jpg. */
export async function readSamples(folder: string): Promise<StoredSample[]> {
  const names = (await readdir(folder, { withFileTypes: true })).filter((entry) => entry.isDirectory())
  const samples = await Promise.all(
    names.map(async ({ name }) => ({
      ...(JSON.parse(await readFile(join(folder, name, 'sample.json'), 'utf8')) as Omit<
        StoredSample,
        'folder'
      >),
      folder: join(folder, name),
    })),
  )
  return samples.sort((a, b) => a.order - b.order)
}

export function findSample(samples: StoredSample[], id: string): StoredSample {
  const sample = samples.find((candidate) => candidate.id === id)
  if (!sample) throw new Problem(404, 'no-such-sample', 'There is no such sample.')
  return sample
}
