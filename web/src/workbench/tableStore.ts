import { create } from 'zustand'

/** How the data table is laid out. */
interface TableState {
  open: boolean
  /** Columns of each body, by id. */
  columns: string[]
  /** Whether all bodies stand side by side, or only the active one. */
  all: boolean
  /** Whether what is copied is rounded to its error. */
  rounded: boolean
  /** How many evenly spaced rows stand in place of the marks'; null: the marks' own. */
  even: number | null
  /** Frames of the rows that are selected; null where none are. */
  rows: { from: number; to: number } | null
}

/** What of the data table is shown right now; nothing of it is saved. */
export const useTable = create<TableState>(() => ({
  open: false,
  columns: ['x', 'y', 'vx', 'vy', 'ax', 'ay'],
  all: false,
  rounded: false,
  even: null,
  rows: null,
}))
