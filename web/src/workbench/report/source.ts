import type { BlockContent, Mutator, Report, Reported } from '@apokinema/core/investigation'
import type { ReportTemplate } from '@apokinema/core/report'
import type { BlockChoice, ValueChoice } from '@apokinema/words/report/choices'
import type { Picture } from '@apokinema/words/report/shown'
import type { ReportSubject } from '@apokinema/words/report/subject'
import type { TemplateId } from '@apokinema/words/report/templates'
import { type ComponentType, createContext, useContext, useSyncExternalStore } from 'react'
import { type StoreApi, useStore } from 'zustand'
import type { SessionState } from '../../document/sessionState.ts'

/** What a report needs of the session of its document. */
export interface ReportSession {
  readonly document: Reported
  readonly store: Pick<StoreApi<SessionState<Reported>>, 'getState' | 'getInitialState' | 'subscribe'>
  edit(label: string, mutator: Mutator<Reported>, together?: string): void
  undo(): void
  redo(): void
  noteWriting(isWriting: boolean): void
}

/** A picture that is drawn from numbers, as vectors. */
export type Plot = Extract<Picture, { of: 'graph' | 'motions' }>

/** An axis of a graph, for the fields of what is seen along it. */
export interface ReportAxis {
  symbol: string
  unit: string
  perKept: number
}

/** What a report is written of: an investigation, or a series. It is the same object for as long as that is open. */
export interface ReportSource {
  readonly session: ReportSession
  /** Calls back when something has changed that blocks may follow; returns what ends that. */
  follow(changed: () => void): () => void
  /** Returns the subject as it is now: the same object as long as nothing has changed. */
  subject(): ReportSubject
  /** Returns what stands for everything but the report: the same object as long as nothing else has changed. */
  measured(): object
  blockChoices(): { group: string; choices: BlockChoice[] }[]
  valueChoices(): ValueChoice[]
  templateBlocks(template: TemplateId): BlockContent[]
  /** Templates that people keep; null: not for reports of this kind. */
  readonly ownTemplates: {
    fill(template: ReportTemplate): (readonly [string, BlockContent])[]
    keep(name: string): ReportTemplate
  } | null
  /** Returns the axes of a graph; none if it is gone. */
  axes(graph: string): ReportAxis[]
  /** Returns the columns of the table of trials, and whether there are means of them. */
  trials(): { columns: readonly (readonly [id: string, name: string])[]; hasMeans: boolean }
  /** Returns the number of the last frame. */
  lastFrame(): number
  /** Draws a plot as vectors; null if it is gone. `width` is a share of the page's text width. */
  svg(plot: Plot, width: number): SVGSVGElement | null
  /** Returns a plot as PNG at 300 pixels per inch; null if it is gone. */
  png(plot: Plot, width: number): Promise<Blob | null>
  /** Returns a picture that is made of frames, in full resolution; null if it can't be made. */
  photo(picture: Picture): Promise<Blob | null>
  /** Shows a picture that is made of frames. */
  readonly PhotoView: ComponentType<{ picture: Picture; digest: string }>
  /** Shows in a few pixels what a block will look like. */
  readonly SmallPicture: ComponentType<{ content: BlockContent }>
}

const SourceContext = createContext<ReportSource | null>(null)
export const SourceProvider = SourceContext.Provider

/** Returns what the open report is written of. */
export function useSource(): ReportSource {
  const source = useContext(SourceContext)
  if (!source) throw new Error('There is no open report here.')
  return source
}

/** Returns a part of the report; the component renders again only when it changes. */
export function useReport<T>(pick: (report: Report) => T): T {
  return useStore(useSource().session.store, ({ preview, document }) => pick((preview ?? document).report))
}

/** Returns whether the report has no blocks. */
export const useIsEmpty = () => useReport(({ blocks }) => Object.keys(blocks).length === 0)

/** Returns the title of the document, which a report without one has. */
export const useDocumentTitle = () =>
  useStore(useSource().session.store, ({ preview, document }) => (preview ?? document).title)

/** Returns what follows from the source as it is now; `get` gives equal values as long as nothing changes. */
export function useFollowed<T>(get: (source: ReportSource) => T): T {
  const source = useSource()
  return useSyncExternalStore(source.follow, () => get(source))
}
