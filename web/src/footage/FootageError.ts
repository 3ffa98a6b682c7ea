/** Footage that can't be used; the message is for the person. */
export class FootageError extends Error {
  /** @param convertible whether it is a video all the same, only not one that this browser decodes */
  constructor(
    message: string,
    readonly convertible = false,
  ) {
    super(message)
  }
}
