import { expect } from 'vitest';

/** What grows with the input alone takes a second on a slow machine; what backtracks or multiplies takes hours on any. */
const patienceMs = 60_000;

/** Runs something on hostile input and expects it to end in bounded time. */
export function inTime<Value>(run: () => Value): Value {
  const began = performance.now();
  const check = () => expect(performance.now() - began).toBeLessThan(patienceMs);
  const value = run();
  if (value instanceof Promise) return value.finally(check) as Value;
  check();
  return value;
}
