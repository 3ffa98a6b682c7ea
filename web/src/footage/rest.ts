/** Lets background work in a worker pause while a person interacts with the page. */
export class Rest {
  private heldUntil = 0

  /** Pauses for some milliseconds from now. */
  hold(milliseconds: number): void {
    this.heldUntil = performance.now() + milliseconds
  }

  /** Resolves when the work may continue. */
  async over(): Promise<void> {
    while (performance.now() < this.heldUntil) await new Promise((resolve) => setTimeout(resolve, 100))
  }
}
