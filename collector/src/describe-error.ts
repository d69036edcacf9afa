import type { SentException } from './item.ts';

const deepestCause = 10;
const longestStack = 60_000;

/** An error with its causes and, of an aggregate, its members; any other value as what it prints. */
export function describeError(thrown: unknown): SentException[] {
  const all: SentException[] = [];
  const seen = new Set<unknown>();
  const add = (value: unknown, relation: SentException['relation'], parent: number | null) => {
    if (all.length >= deepestCause || seen.has(value)) return;
    seen.add(value);
    const index = all.push({ ...describeOne(value), relation, parent }) - 1;
    if (typeof value !== 'object' || value === null) return;
    const { cause, errors } = value as { cause?: unknown; errors?: unknown };
    if (cause !== undefined) add(cause, 'cause', index);
    if (Array.isArray(errors))
      for (const [position, member] of errors.entries()) add(member, position === 0 && cause === undefined ? 'cause' : 'suppressed', index);
  };
  add(thrown, 'thrown', null);
  return all;
}

function describeOne(value: unknown): Pick<SentException, 'type' | 'message' | 'stack'> {
  if (value instanceof Error || (typeof value === 'object' && value !== null && 'stack' in value)) {
    const { name, message, stack } = value as Error;
    return {
      type: String(name || 'Error'),
      message: message === undefined ? null : String(message).slice(0, 16_000),
      stack: stack ? String(stack).slice(0, longestStack) : null,
    };
  }
  return { type: 'thrown value', message: print(value).slice(0, 4_000), stack: null };
}

function print(value: unknown): string {
  try {
    return typeof value === 'object' ? JSON.stringify(value) : String(value);
  } catch {
    return Object.prototype.toString.call(value);
  }
}
