import { resolve } from 'node:path'
import { backUp } from '@apokinema/server/backup'
import { namedFolder, withInstallation } from './installation.ts'

/** `npm run backup -- FOLDER`: database and footage of one moment in a folder, while the server may run. */

const folder = resolve(namedFolder('backup'))
await withInstallation(async (databaseUrl, footageFolder) => {
  const { investigations, files, at } = await backUp(databaseUrl, footageFolder, folder)
  return `${investigations} investigations and ${files} files as they were at ${at} are in ${folder}.`
})
