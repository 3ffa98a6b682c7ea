/** Says what is being opened, makes it, and goes to the address that `make` returns. */
export type Enter = (what: string, make: (say: (what: string) => void) => Promise<string>) => Promise<void>

/** Returns the address of an investigation that is being made. */
export const investigationAt = async (id: Promise<string>) => `/investigations/${await id}`
/** Returns the address of a series that is being made. */
export const seriesAt = async (id: Promise<string>) => `/series/${await id}`
