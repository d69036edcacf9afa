/** How hard intake is pressed in this process. Taking a report comes before working on one: a sender waits, a queue does not. */
export class Pressure {
  private requests = 0;

  /** Runs a request of intake. */
  async during<Value>(run: () => Promise<Value>): Promise<Value> {
    this.requests++;
    try {
      return await run();
    } finally {
      this.requests--;
    }
  }

  /** More requests are waiting than one that is just being answered. */
  get isHigh(): boolean {
    return this.requests > 2;
  }
}
