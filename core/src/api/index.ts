import type { Investigation, Patch, Summary } from '../investigation/index.ts'
import type { Series } from '../series/index.ts'

/** Where things are on the server. Ids are UUIDs. */
export const API = {
  /** Whether the server runs, and whether it can work: its database answers. */
  alive: '/livez',
  ready: '/readyz',
  limits: '/api/limits',
  samples: '/api/samples',
  samplePoster: (sample: string) => `/api/samples/${sample}/poster`,
  investigations: '/api/investigations',
  investigation: (id: string) => `/api/investigations/${id}`,
  edits: (id: string) => `/api/investigations/${id}/edits`,
  /** The whole investigation as one file. */
  packed: (id: string) => `/api/investigations/${id}/packed`,
  /** All that is stored of an investigation, as it is stored. */
  stored: (id: string) => `/api/investigations/${id}/stored`,
  /** The series that the investigation is a trial of. */
  seriesOf: (id: string) => `/api/investigations/${id}/series`,
  copies: (id: string) => `/api/investigations/${id}/copies`,
  restored: (id: string) => `/api/investigations/${id}/restored`,
  footage: (id: string, footage: string) => `/api/investigations/${id}/footage/${footage}`,
  poster: (id: string, footage: string) => `/api/investigations/${id}/footage/${footage}/poster`,
  conversion: (id: string) => `/api/investigations/${id}/conversion`,
  allSeries: '/api/series',
  series: (id: string) => `/api/series/${id}`,
  /** The whole series with its investigations as one file. */
  packedSeries: (id: string) => `/api/series/${id}/packed`,
  seriesEdits: (id: string) => `/api/series/${id}/edits`,
  seriesRestored: (id: string) => `/api/series/${id}/restored`,
  /** The investigations of a series. */
  trials: (id: string) => `/api/series/${id}/trials`,
  /** Edits of several of them at once. */
  trialEdits: (id: string) => `/api/series/${id}/trials/edits`,
  /** Reports kept for other investigations. */
  templates: '/api/report-templates',
  template: (id: string) => `/api/report-templates/${id}`,
  /** Resumable uploads by the tus protocol, version 1.0.0. */
  uploads: '/api/uploads',
} as const

/** A sample that an investigation can be made from. */
export interface ListedSample {
  id: string
  title: string
  about: string
}

/** Samples that belong together as the trials of a series. */
export interface ListedSampleSeries {
  id: string
  title: string
  about: string
  /** What was set for each trial: `error` is the standard error of its values, in the unit. */
  conditions: { name: string; symbol: string; unit: string; error: number }[]
  /** Samples that are offered only together, with the value of each condition. */
  trials: { id: string; title: string; typed: number[] }[]
}

/** What can be looked at without a clip of one's own. */
export interface ListedSamples {
  samples: ListedSample[]
  series: ListedSampleSeries[]
}

/** A report kept for other investigations, as a list shows it. */
export interface ListedTemplate {
  id: string
  name: string
}

/** What a server takes. */
export interface Limits {
  /** Most bytes of one piece of footage. */
  footageBytes: number
  /** Whether it can convert what browsers can't decode. */
  converts: boolean
  /** Who works here. */
  person: { id: string; name: string }
}

/** An investigation as a list shows it. Times are ISO 8601 in UTC. */
export interface ListedInvestigation {
  id: string
  title: string
  /** Null where its document can't be read here. */
  summary: Summary | null
  /** Id of its footage where the server has a picture of it. */
  poster: string | null
  /** Id of the series that it is a trial of. */
  series: string | null
  updatedAt: string
  deletedAt: string | null
}

/** The series that an investigation is a trial of. */
export interface SeriesOf {
  id: string
  title: string
}

/** A trial as its series lists it. */
export interface ListedTrial {
  id: string
  /** Title and version of the investigation. */
  title: string
  version: number
  /** Id of its footage where the server has a picture of it. */
  poster: string | null
}

/** A series as a list shows it. */
export interface ListedSeries {
  id: string
  title: string
  /** Its first trials, and how many there are. */
  trials: ListedTrial[]
  count: number
  updatedAt: string
  deletedAt: string | null
}

/** A series with the version that edits refer to, and its trials that are not deleted. */
export interface OpenedSeries {
  id: string
  version: number
  document: Series
  trials: ListedTrial[]
  updatedAt: string
}

/** Body of POST series. */
export interface NewSeriesRequest {
  id: string
  document: Series
}

/** A page of the list, newest first. */
export interface ListedInvestigations {
  investigations: ListedInvestigation[]
  /** To be asked for as `after` for the page that follows; null where there is none. */
  next: string | null
}

/** A whole investigation with the version that edits refer to. */
export interface OpenedInvestigation {
  id: string
  version: number
  document: Investigation
  /** Whether the server has the footage that the document names. */
  footageStored: boolean
  updatedAt: string
}

/** Body of POST investigations: from nothing, from a sample, or from a document that was packed elsewhere. */
export interface NewInvestigationRequest {
  id: string
  title: string
  sample?: string
  document?: Investigation
}

/** Body of POST edits. The same key is applied once, however often it arrives. */
export interface EditRequest {
  key: string
  /** The version that the patch was made on. */
  base: number
  patch: Patch
}

/** An edit of one of the trials of a series. The body of POST trial edits is a list of them. */
export interface TrialEditRequest extends EditRequest {
  /** Id of the trial. */
  id: string
}

/** Most trials that one request reads or changes. */
export const MOST_TRIALS_AT_ONCE = 50

/** Answer to POST trial edits: one for each edit, in their order. Each is made or refused by itself. */
export type TrialEditAnswers = (EditAnswer | ProblemAnswer)[]

/** Answer to an edit: the version after it, and what others had changed between `base` and it. */
export interface EditAnswer {
  version: number
  since: Patch[]
  updatedAt: string
}

/** What becomes of an uploaded file: it is footage as it is, a video to convert, or a ZIP of numbered stills. */
export const FOOTAGE_KINDS = ['as-it-is', 'video', 'stills'] as const
export type FootageKind = (typeof FOOTAGE_KINDS)[number]

/** Body of PUT footage: an upload that is complete becomes the footage of an investigation. */
export interface FootageRequest {
  /** Id of the upload, the last part of its address. */
  upload: string
  /** Of the whole file, in hexadecimal digits. */
  sha256: string
  name: string
  kind: FootageKind
  /** Of stills: frames a second as decimal digits, such as 29.97. */
  rate?: string
}

export const CONVERSION_STATES = ['waiting', 'running', 'done', 'failed', 'cancelled'] as const
export type ConversionState = (typeof CONVERSION_STATES)[number]

/** How the conversion of an investigation's footage stands. */
export interface ConversionAnswer {
  /** Also the id of the footage that comes of it. */
  id: string
  name: string
  /** Bytes of the original. */
  size: number
  state: ConversionState
  /** From 0 to 1. */
  progress: number
  /** Conversions that are before this one. */
  ahead: number
  /** Why it failed, for people. */
  problem: string | null
  /** What the tool itself said. */
  technical: string | null
}

/** An error as RFC 9457 has it, with a code for programs and sentences for people. */
export interface ProblemAnswer {
  type: string
  title: string
  status: number
  code: string
  detail: string
  /** Under which the server's log tells more. */
  instance?: string
}

/** Most bytes of footage unless the server is told otherwise. */
export const DEFAULT_MAX_FOOTAGE_MB = 2048
