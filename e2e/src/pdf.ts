import { getDocument, OPS } from 'pdfjs-dist/legacy/build/pdf.mjs'

/** A printed page. */
interface PdfPage {
  /** In millimetres. */
  width: number
  height: number
  /** Its text, with a space between pieces. */
  text: string
}

/** What a PDF file has in it, for tests of printing. */
export interface Pdf {
  pages: PdfPage[]
  /** Fonts of its text, by name, each with whether its glyphs are in the file. */
  fonts: Map<string, { isEmbedded: boolean }>
}

/** What the reader says of a font. */
interface FontOfPdf {
  name: string
  missingFile?: boolean
}

const MILLIMETRES = 25.4 / 72

/** Reads a PDF file. */
export async function readPdf(bytes: Buffer): Promise<Pdf> {
  const task = getDocument({ data: new Uint8Array(bytes), useSystemFonts: false, verbosity: 0 })
  const pdf = await task.promise
  const pages: PdfPage[] = []
  const fonts: Pdf['fonts'] = new Map()
  for (let i = 1; i <= pdf.numPages; i++) {
    const page = await pdf.getPage(i)
    const { width, height } = page.getViewport({ scale: 1 })
    const { items } = await page.getTextContent()
    const text = items.map((item) => ('str' in item ? item.str + (item.hasEOL ? ' ' : '') : '')).join('')
    const { fnArray, argsArray } = await page.getOperatorList()
    fnArray.forEach((operator, k) => {
      if (operator !== OPS.setFont) return
      const { name, missingFile } = page.commonObjs.get(argsArray[k][0]) as FontOfPdf
      fonts.set(name, { isEmbedded: !missingFile })
    })
    pages.push({ width: width * MILLIMETRES, height: height * MILLIMETRES, text: text.replace(/\s+/g, ' ') })
  }
  await task.destroy()
  return { pages, fonts }
}
