/** Footage that can't be used; the message is for people. */
export class FootageError extends Error {
  /** @param convertible true if it is a video that only this browser can't decode */
  constructor(
    message: string,
    readonly convertible = false,
  ) {
    super(message)
  }
}
