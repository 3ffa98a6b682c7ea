import { fileNameOf } from '@apokinema/core/formats'
import * as Comlink from 'comlink'
import { strToU8, zipSync } from 'fflate'
import { docxReport } from './docxReport.ts'
import { htmlReport } from './HtmlReport.tsx'
import { markdownReport } from './markdownReport.ts'
import type { ReportFile } from './reportFile.ts'

/** Formats that a report can be taken away in. */
export type ReportFormat = 'docx' | 'html' | 'markdown'

const worker = {
  /** Makes the file of a report. */
  async make(format: ReportFormat, file: ReportFile): Promise<Blob> {
    if (format === 'docx') return docxReport(file)
    if (format === 'html') return new Blob([htmlReport(file)], { type: 'text/html' })
    const { text, pictures } = markdownReport(file)
    const zip = zipSync({ [fileNameOf(file, 'md')]: strToU8(text), ...pictures })
    return new Blob([zip as BlobPart], { type: 'application/zip' })
  },
}

export type ReportFileWorker = typeof worker
Comlink.expose(worker)
