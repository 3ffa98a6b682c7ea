import { BackupError } from '@apokinema/server/backup'
import { type Cluster, startCluster } from '@apokinema/server/cluster'
import { readConfig } from '@apokinema/server/config'
import { ensureDatabase } from '@apokinema/server/roles'
import { dataFolder, footageFolder } from './folders.ts'

/**
 * Does something with database and footage folder of this installation, as its settings say; a PostgreSQL of ours that
 * does not run is started for it. Ends the process with a sentence where it can't be done.
 */
export async function withInstallation(
  act: (databaseUrl: string, footageFolder: string) => Promise<string>,
): Promise<void> {
  let cluster: Cluster | null = null
  let wasRunning = true
  try {
    if (!process.env.DATABASE_URL) {
      cluster = await startCluster(dataFolder())
      wasRunning = cluster.isAdopted
    }
    const databaseUrl = cluster ? await ensureDatabase(cluster, 'apokinema') : process.env.DATABASE_URL!
    const config = readConfig({ DATABASE_URL: databaseUrl, FOOTAGE_DIR: footageFolder() })
    console.log(await act(databaseUrl, config.footageFolder))
  } catch (error) {
    console.error(error instanceof BackupError ? error.message : error)
    process.exitCode = 1
  } finally {
    if (!wasRunning) await cluster?.stop()
  }
}

/** Returns the folder that a command names. */
export function namedFolder(command: string): string {
  const [folder] = process.argv.slice(2)
  if (!folder) {
    console.error(`Name the folder: npm run ${command} -- FOLDER`)
    process.exit(1)
  }
  return folder
}
