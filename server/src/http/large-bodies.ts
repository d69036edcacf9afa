import { ApiError } from '../errors.ts';
import { intakeLimits } from '../intake/intake-limits.ts';

/** Places for large bodies. Whoever finds none waits with its body unread, and is told to come later when that takes too long. */
export class LargeBodies {
  private taken = 0;
  private readonly waiting: (() => void)[] = [];

  constructor(private readonly limits: Pick<typeof intakeLimits, 'largeAtOnce' | 'largeWaiting' | 'largeWaitMs'> = intakeLimits) {}

  /** Takes a place; the function that comes back gives it up again. */
  async enter(): Promise<() => void> {
    if (this.taken >= this.limits.largeAtOnce) await this.wait();
    else this.taken++;
    let isIn = true;
    return () => {
      if (!isIn) return;
      isIn = false;
      // The place goes to the next one without ever being free.
      const next = this.waiting.shift();
      if (next) next();
      else this.taken--;
    };
  }

  private wait(): Promise<void> {
    if (this.waiting.length >= this.limits.largeWaiting) throw busy();
    return new Promise((resolve, reject) => {
      const enter = () => {
        clearTimeout(timer);
        resolve();
      };
      const timer = setTimeout(() => {
        this.waiting.splice(this.waiting.indexOf(enter), 1);
        reject(busy());
      }, this.limits.largeWaitMs);
      this.waiting.push(enter);
    });
  }
}

const busy = (): ApiError =>
  new ApiError('busy', 'As many large requests as there is room for are being worked on.', { retryAfterSeconds: 5 });

/** The place of one request, taken when its body turns out to be large. */
export class LargePlace {
  private leave: (() => void) | null = null;

  constructor(private readonly bodies: LargeBodies) {}

  get isTaken(): boolean {
    return this.leave !== null;
  }

  async take(): Promise<void> {
    this.leave ??= await this.bodies.enter();
  }

  giveUp(): void {
    this.leave?.();
    this.leave = null;
  }
}
