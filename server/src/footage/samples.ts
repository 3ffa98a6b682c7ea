import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { ListedSample, ListedSampleSeries, ListedSamples } from '@apokinema/core/api'
import type { Footage } from '@apokinema/core/investigation'
import { Problem } from '../problem.ts'

/** A sample in its folder: texts of the list, and facts of its footage. */
interface StoredSample extends ListedSample {
  footage: Omit<Footage, 'id'>
  /** Position in the list; negative for trials of a series, which are not offered by themselves. */
  order: number
  folder: string
}

/** The sample footage that investigations can be made from. */
export class Samples {
  private constructor(
    private readonly stored: readonly StoredSample[],
    private readonly series: readonly ListedSampleSeries[],
  ) {}

  /**
   * Reads the samples in a folder, each in a subfolder of `samples` or `series` with sample.json, footage.mp4 and poster.jpg. What belongs
   * together stands in series/series.json.
   */
  static async read(folder: string): Promise<Samples> {
    const [single, trials, series] = await Promise.all([
      readSamples(join(folder, 'samples')),
      readSamples(join(folder, 'series')),
      readFile(join(folder, 'series', 'series.json'), 'utf8'),
    ])
    return new Samples([...single, ...trials], JSON.parse(series) as ListedSampleSeries[])
  }

  /** Returns what is offered. */
  list(): ListedSamples {
    const offered = this.stored.filter(({ order }) => order >= 0).sort((a, b) => a.order - b.order)
    return {
      samples: offered.map(({ id, title, about }) => ({ id, title, about })),
      series: [...this.series],
    }
  }

  /** Returns a sample, or a trial of a series; throws a Problem if there is none with this id. */
  find(id: string): StoredSample {
    const sample = this.stored.find((candidate) => candidate.id === id)
    if (!sample) throw new Problem(404, 'no-such-sample', 'There is no such sample.')
    return sample
  }
}

async function readSamples(folder: string): Promise<StoredSample[]> {
  const names = (await readdir(folder, { withFileTypes: true })).filter((entry) => entry.isDirectory())
  return Promise.all(
    names.map(async ({ name }) => ({
      ...(JSON.parse(await readFile(join(folder, name, 'sample.json'), 'utf8')) as Omit<
        StoredSample,
        'folder'
      >),
      folder: join(folder, name),
    })),
  )
}
