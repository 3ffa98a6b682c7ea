import { create } from 'zustand'

/** Layout of the data table. */
interface TableState {
  open: boolean
  /** Columns of each body, by id. */
  columns: string[]
  /** Whether all bodies are shown side by side, or only the active one. */
  all: boolean
  /** Whether copied values are rounded to their errors. */
  rounded: boolean
  /** Number of evenly spaced rows; null: a row per mark. */
  even: number | null
  /** Frames of the selected rows; null for none. */
  rows: { from: number; to: number } | null
}

/** Layout of the data table at present; not saved. */
export const useTable = create<TableState>(() => ({
  open: false,
  columns: ['x', 'y', 'vx', 'vy', 'ax', 'ay'],
  all: false,
  rounded: false,
  even: null,
  rows: null,
}))
