import type { Paper } from '@apokinema/core/investigation'
import type { Editor } from '@tiptap/core'
import { type RefObject, useEffect } from 'react'
import { MARGIN, MILLIMETRE, PAPER_SIZE } from '../pageSize.ts'
import { type GapAt, PAGE_GAPS, type PageGap, usePageLayout } from './pageGaps.ts'
import { type PageItem, paginate } from './paginate.ts'

/** Space left free on each page, in CSS pixels: printing may set a line a little higher than the screen. */
const SPARE = 4
/** Least scale at which a page can be read; in a narrower place the text is as wide as the place, without pages. */
const LEAST_SCALE = 0.62
/** Space beside the page, in CSS pixels. */
const BESIDE = 14

/** Shows where pages begin, as they print, and scales the page to the width that there is. */
export function usePages(editor: Editor, sheet: RefObject<HTMLElement | null>, paper: Paper): void {
  useEffect(() => {
    const element = sheet.current
    const desk = element?.parentElement
    if (!element || !desk) return
    const { width, height } = PAPER_SIZE[paper]
    let frame = 0
    let shown = ''
    const layOut = () => {
      frame = 0
      if (editor.isDestroyed) return
      const fit = (desk.clientWidth - 2 * BESIDE) / (width * MILLIMETRE)
      const scale = fit < LEAST_SCALE ? null : Math.min(1, fit)
      element.classList.toggle('fluid', scale === null)
      element.style.setProperty('--scale', String(scale ?? 1))
      const capacity = (height - 2 * MARGIN) * MILLIMETRE - SPARE
      const found =
        scale === null ? { gaps: [], pages: 1, tables: [] } : pagesOf(editor, element, scale, capacity)
      element.style.setProperty('--pages', String(found.pages))
      const now = JSON.stringify(found)
      if (now === shown) return
      shown = now
      usePageLayout.setState({
        pages: found.pages,
        tables: new Map(found.tables.map(([id, rows]) => [id, new Map(rows)])),
      })
      editor.view.dispatch(editor.state.tr.setMeta(PAGE_GAPS, found.gaps))
    }
    const soon = () => {
      frame ||= requestAnimationFrame(layOut)
    }
    // What stands in the text changes its height; a block that is moved may not.
    let sequence = ''
    const noteOrder = () => {
      const now = editor.state.doc.children.map(({ attrs }) => `${attrs.id}${attrs.style ?? ''}`).join()
      if (now !== sequence) soon()
      sequence = now
    }
    const observer = new ResizeObserver(soon)
    for (const one of [editor.view.dom, desk, element]) observer.observe(one)
    editor.on('update', noteOrder)
    soon()
    return () => {
      cancelAnimationFrame(frame)
      observer.disconnect()
      editor.off('update', noteOrder)
      usePageLayout.setState({ pages: 1, tables: new Map() })
    }
  }, [editor, sheet, paper])
}

/** Returns where pages begin, measured from what is shown at a scale. */
function pagesOf(editor: Editor, sheet: HTMLElement, scale: number, capacity: number) {
  const { view, state } = editor
  const nodes: { position: number; id: string }[] = []
  const items: PageItem[] = []
  let beginsPage = false
  state.doc.forEach((node, position) => {
    const element = view.nodeDOM(position)
    if (!(element instanceof HTMLElement)) return
    items.push({
      ...measured(element, scale),
      keepsWithNext: node.attrs.style === 'heading' || node.attrs.style === 'subheading',
      beginsPage,
    })
    nodes.push({ position, id: node.attrs.id as string })
    beginsPage = element.querySelector(':scope .page-break') !== null
  })
  const above = (view.dom.getBoundingClientRect().top - sheet.getBoundingClientRect().top) / scale
  const before = above - MARGIN * MILLIMETRE
  const gaps: GapAt[] = []
  const tables = new Map<string, [number, PageGap][]>()
  paginate(items, before, capacity).forEach(({ item, row, rest }, i) => {
    const { position, id } = nodes[item]
    // To the nearest tenth, so that rounding does not show the same gap again and again.
    const gap = { page: i + 1, rest: Math.round(10 * (rest + SPARE)) / 10 }
    if (row === null) gaps.push({ position, ...gap })
    else tables.set(id, [...(tables.get(id) ?? []), [row, gap]])
  })
  const pages = 1 + gaps.length + [...tables.values()].reduce((sum, rows) => sum + rows.length, 0)
  return { gaps, pages, tables: [...tables] }
}

/** Returns the height of a block, and of the parts of a table without the gaps that are shown in it. */
function measured(element: HTMLElement, scale: number): Pick<PageItem, 'height' | 'rows'> {
  const heightOf = (one: Element) => one.getBoundingClientRect().height / scale
  const table = element.querySelector('table')
  const body = table?.tBodies[0]
  const height = heightOf(element)
  if (!table?.tHead || !body) return { height, rows: null }
  const heights = [...body.rows].filter((row) => !row.matches('.page-gap-row')).map(heightOf)
  const gaps = heightOf(body) - heights.reduce((sum, row) => sum + row, 0)
  return {
    height: height - gaps,
    rows: {
      top: (body.getBoundingClientRect().top - element.getBoundingClientRect().top) / scale,
      head: heightOf(table.tHead),
      heights,
    },
  }
}
