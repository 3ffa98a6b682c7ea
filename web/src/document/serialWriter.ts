/** Writes one state after the other: what is asked for during a write results in one more. */
export class SerialWriter {
  private isWriting = false
  private isRequested = false

  /** @param write writes the state as it is then; must not reject */
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
