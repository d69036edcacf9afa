import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { formatFrame } from '../../format-frame.ts';
import { readCrashFile } from '../crash-file.ts';

interface Truth {
  readonly type: string;
  readonly named: string;
  readonly message: string | null;
  readonly frames: readonly string[];
  readonly cause?: Truth;
  readonly errors?: readonly Truth[];
}

const recorded: readonly { name: string; how: string; text: string; truth: Truth }[] = JSON.parse(
  gunzipSync(readFileSync(new URL('../../../../samples/javascript-inspected/inspected.json.gz', import.meta.url))).toString('utf8'),
);

/** Exceptions in the order of the text, with what each hangs on. */
function inOrder(truth: Truth, relation = 'thrown'): unknown[] {
  const { type, message, frames, cause, errors = [] } = truth;
  return [
    { type, message, relation, frames },
    ...errors.flatMap((one, at) => inOrder(one, at === 0 ? 'cause' : 'suppressed')),
    ...(cause ? inOrder(cause, 'cause') : []),
  ];
}

describe('errors as they are printed', () => {
  it.each(recorded.map(({ name, how, text, truth }) => [name, how, text, truth] as const))('%s, %s', (_, how, text, truth) => {
    const found = readCrashFile(new TextEncoder().encode(text), { receivedAt: '2026-01-01T00:00:00Z' });
    if (!found.ok) throw new Error(found.problem.message);
    const { named: type, message, frames } = truth;
    const expected = how === 'stack' ? [{ type, message, relation: 'thrown', frames }] : inOrder(truth);
    expect(
      found.value.map(({ exceptions }) =>
        exceptions.map((one) => ({ type: one.type, message: one.message, relation: one.relation, frames: one.frames.map(formatFrame) })),
      ),
    ).toEqual([expected]);
  });
});
