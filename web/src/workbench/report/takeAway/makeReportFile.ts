import { fileNameOf } from '@apokinema/core/formats'
import * as Comlink from 'comlink'
import type { ReportFile } from './reportFile.ts'
import type { ReportFileWorker, ReportFormat } from './reportFile.worker.ts'

/** The formats of a report with their names and the endings of their files. */
export const REPORT_FORMATS: readonly (readonly [ReportFormat, string, string])[] = [
  ['docx', 'Word document', 'docx'],
  ['html', 'Web page in one file', 'html'],
  ['markdown', 'Markdown with pictures', 'zip'],
]

/** Makes the file of a report in a worker, and returns it with its name. */
export async function makeReportFile(
  format: ReportFormat,
  report: ReportFile,
  signal: AbortSignal,
): Promise<{ file: Blob; name: string }> {
  const worker = new Worker(new URL('./reportFile.worker.ts', import.meta.url), {
    type: 'module',
    name: 'report-file',
  })
  const aborted = new Promise<never>((_, reject) => {
    signal.addEventListener('abort', () => reject(signal.reason))
  })
  try {
    const made = Comlink.wrap<ReportFileWorker>(worker).make(format, report)
    const file = await Promise.race([made, aborted])
    const [, , ending] = REPORT_FORMATS.find(([id]) => id === format)!
    return { file, name: fileNameOf(report, ending) }
  } finally {
    worker.terminate()
  }
}
