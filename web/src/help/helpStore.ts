import { create } from 'zustand'

/** Whether help is open, and at which page. */
export const useHelp = create<{ open: boolean; page: string }>(() => ({ open: false, page: 'start' }))

/** Opens help, at a page if one is given. */
export const showHelp = (page?: string) => useHelp.setState({ open: true, ...(page && { page }) })
