import { expect, it, vi } from 'vitest';
import { Patience } from './within-patience.ts';

it('waits for work so long, and for what is overdue no second time', async () => {
  vi.useFakeTimers();
  try {
    const patience = new Patience();
    let finish = () => {};
    const begun: number[] = [];
    const work = () => {
      begun.push(begun.length);
      return new Promise<void>((resolve) => {
        finish = resolve;
      });
    };
    const first = patience.within(work);
    await vi.advanceTimersByTimeAsync(2_000);
    await first;
    // It still runs: whoever asks now is answered at once, and begins nothing.
    await patience.within(work);
    expect(begun).toEqual([0]);
    finish();
    await vi.advanceTimersByTimeAsync(0);
    const next = patience.within(work);
    expect(begun).toEqual([0, 1]);
    finish();
    await next;
  } finally {
    vi.useRealTimers();
  }
});

it('takes a failure for an end', async () => {
  const patience = new Patience();
  await patience.within(() => Promise.reject(new Error('away')));
  let ran = false;
  await patience.within(async () => {
    ran = true;
  });
  expect(ran).toBe(true);
});
