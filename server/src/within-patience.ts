const patienceMs = 2_000;

/**
 * Waits for work that figures could do without for once: a database that takes no changes for a while still tells what it has.
 * The work goes on; what fails of it is looked at by whoever asks next, who does not wait for it a second time.
 */
export class Patience {
  /** Work that somebody has waited for in vain, and that is not done yet. */
  private overdue: Promise<void> | null = null;

  async within(work: () => Promise<void>): Promise<void> {
    if (this.overdue) return;
    const done = work().catch(() => {});
    let timer: ReturnType<typeof setTimeout> | undefined;
    const given = new Promise<'given up'>((resolve) => {
      timer = setTimeout(() => resolve('given up'), patienceMs);
    });
    const ended = await Promise.race([done, given]);
    clearTimeout(timer);
    if (ended !== 'given up') return;
    this.overdue = done.finally(() => {
      this.overdue = null;
    });
  }
}
