/** How work that nobody waits for, in a worker, leaves the machine to a person's hands for a while. */
export class Rest {
  private heldUntil = 0

  /** Rests for so many milliseconds from now. */
  hold(milliseconds: number): void {
    this.heldUntil = performance.now() + milliseconds
  }

  /** Until the work may go on. */
  async over(): Promise<void> {
    while (performance.now() < this.heldUntil) await new Promise((resolve) => setTimeout(resolve, 100))
  }
}
