import { resolve } from 'node:path'
import { restore } from '@apokinema/server/backup'
import { namedFolder, withInstallation } from './installation.ts'

/** `npm run restore -- FOLDER`: a backup into an installation that holds nothing yet. */

const folder = resolve(namedFolder('restore'))
await withInstallation(async (databaseUrl, footageFolder) => {
  const { investigations, files, at } = await restore(databaseUrl, footageFolder, folder)
  return `${investigations} investigations and ${files} files are back as they were at ${at}. npm start serves them.`
})
