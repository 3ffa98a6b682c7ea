/** Footage that can't be used; the message says why and what to do. */
export class FootageError extends Error {}
