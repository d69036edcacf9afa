import { type Address, problemOf, type RequestProblem, read } from './api';

export interface Listener<Answer> {
  onAnswer(answer: Answer): void;
  onProblem(problem: RequestProblem): void;
  /** What to do about a problem that does not say it itself. */
  readonly remedy?: string;
}

interface Waiting {
  readonly controller: AbortController;
  /** What to ask once the answer has come, because it may be of before the last change. */
  again: (() => void) | null;
}

/**
 * Questions of a part of a screen, each asked once at a time. Whoever asks one again while its answer is awaited gets that answer,
 * and then the next: changes that come faster than the server answers must not keep every answer from being seen.
 */
export class Questions {
  private readonly waiting = new Map<string, Waiting>();

  isWaiting(path: string): boolean {
    return this.waiting.has(path);
  }

  ask<Answer>(path: Address<Answer>, listener: Listener<Answer>): void {
    const before = this.waiting.get(path);
    if (before) {
      before.again = () => this.ask(path, listener);
      return;
    }
    const waiting: Waiting = { controller: new AbortController(), again: null };
    const { signal } = waiting.controller;
    this.waiting.set(path, waiting);
    const end = () => {
      if (this.waiting.get(path) === waiting) this.waiting.delete(path);
    };
    void read(path, signal).then(
      (answer) => {
        end();
        if (signal.aborted) return;
        listener.onAnswer(answer);
        waiting.again?.();
      },
      (error: unknown) => {
        end();
        if (signal.aborted) return;
        listener.onProblem(problemOf(error, listener.remedy ?? 'Load the page again.'));
        waiting.again?.();
      },
    );
  }

  /** Gives up every question but one. */
  leaveAllBut(kept: string | null): void {
    for (const [path, { controller }] of this.waiting) {
      if (path === kept) continue;
      this.waiting.delete(path);
      controller.abort();
    }
  }

  leaveAll(): void {
    this.leaveAllBut(null);
  }
}
