/** Writes states one after the other: any number of requests during a write result in one more write. */
export class SerialWriter {
  private isWriting = false
  private isRequested = false

  /** @param write writes the current state; must not reject */
  constructor(private readonly write: () => Promise<void>) {}

  request(): void {
    this.isRequested = true
    if (!this.isWriting) void this.run()
  }

  private async run(): Promise<void> {
    this.isWriting = true
    while (this.isRequested) {
      this.isRequested = false
      await this.write()
    }
    this.isWriting = false
  }
}
