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
    const [cause, errors] = [partOf(value, 'cause'), partOf(value, 'errors')];
    if (cause !== undefined) add(cause, 'cause', index);
    if (Array.isArray(errors))
      for (const [position, member] of errors.entries()) add(member, position === 0 && cause === undefined ? 'cause' : 'suppressed', index);
  };
  add(thrown, 'thrown', null);
  return all;
}

function describeOne(value: unknown): Pick<SentException, 'type' | 'message' | 'stack'> {
  if (typeof value === 'object' && value !== null && (value instanceof Error || partOf(value, 'stack') !== undefined)) {
    const [name, message, stack] = [partOf(value, 'name'), partOf(value, 'message'), partOf(value, 'stack')];
    return {
      type: name ? print(name) : 'Error',
      message: message === undefined ? null : print(message).slice(0, 16_000),
      stack: stack ? print(stack).slice(0, longestStack) : null,
    };
  }
  return { type: 'thrown value', message: print(value).slice(0, 4_000), stack: null };
}

/** A part of a value; code of the app that gives it may fail. */
function partOf(value: object, name: string): unknown {
  try {
    return (value as Readonly<Record<string, unknown>>)[name];
  } catch {
    return undefined;
  }
}

function print(value: unknown): string {
  try {
    return typeof value === 'object' ? JSON.stringify(value) : String(value);
  } catch {
    return 'a value that cannot be printed';
  }
}
