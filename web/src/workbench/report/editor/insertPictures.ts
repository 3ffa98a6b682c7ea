import { cutText } from '@apokinema/core/investigation'
import { notify } from '../../../common/messages.tsx'
import { photoData } from '../blocks/photos.ts'
import type { ReportSession } from '../source.ts'
import { insertBlocks } from './insert.ts'
import type { Writing } from './writing.ts'

/** Puts pictures from files into the report, where the cursor is. Says which ones can't be read. */
export async function insertPictures(
  session: ReportSession,
  writing: Writing,
  files: readonly File[],
): Promise<void> {
  for (const file of files) {
    const data = await photoData(file)
    if (data === null) {
      notify(`“${cutText(file.name, 80)}” is not a picture that this browser can read.`)
      continue
    }
    const name = cutText(file.name, 200)
    insertBlocks(session, writing, [
      { kind: 'image', name, data, width: 1, caption: null, alternative: null },
    ])
  }
}

/** Lets the person choose pictures, and puts them into the report. */
export function choosePictures(session: ReportSession, writing: Writing): void {
  const field = document.createElement('input')
  field.type = 'file'
  field.accept = 'image/*'
  field.multiple = true
  field.onchange = () => void insertPictures(session, writing, [...(field.files ?? [])])
  field.click()
}

/** Returns the pictures among what was pasted or dropped. */
export function picturesIn(data: DataTransfer | null): File[] {
  return [...(data?.files ?? [])].filter(({ type }) => type.startsWith('image/'))
}
