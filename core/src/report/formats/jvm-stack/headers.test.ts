import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { formatFrame } from '../../format-frame.ts';
import { readCrashFile } from '../crash-file.ts';

interface Truth {
  readonly type: string;
  readonly message: string | null;
  readonly frames: readonly string[];
  readonly cause?: Truth;
  readonly suppressed?: Truth;
}

const recorded: readonly { thrown: string; printed: string; truth: Truth }[] = JSON.parse(
  gunzipSync(readFileSync(new URL('../../../../samples/jvm-headers/headers.json.gz', import.meta.url))).toString('utf8'),
);

/** The exceptions of a text in the order of a report: the chain of causes, then what was suppressed. */
function inOrder(truth: Truth): Truth[] {
  const chain: Truth[] = [];
  for (let one: Truth | undefined = truth; one; one = one.cause) chain.push(one);
  return [...chain, ...chain.flatMap((one) => (one.suppressed ? inOrder(one.suppressed) : []))];
}

/** A stack quoted in the message of an exception that has none itself cannot be told from its own. */
const isTold = ({ truth }: (typeof recorded)[number]) => truth.frames.length > 0 || !truth.message?.includes('wrapped');
/** As the product shows what has no width. */
const shown = (message: string | null) => message?.trimEnd().replaceAll('\r', '␍') ?? null;

describe('exceptions whose messages look like stack traces', () => {
  it.each(recorded.filter(isTold).flatMap(({ thrown, printed, truth }) => [[thrown, truth] as const, [printed, truth] as const]))(
    '%s',
    (text, truth) => {
      const found = readCrashFile(new TextEncoder().encode(text), { receivedAt: '2026-01-01T00:00:00Z' });
      if (!found.ok) throw new Error(found.problem.message);
      expect(
        found.value.map(({ exceptions }) =>
          exceptions.map(({ type, message, frames }) => ({ type, message: shown(message), frames: frames.map(formatFrame) })),
        ),
      ).toEqual([inOrder(truth).map(({ type, message, frames }) => ({ type, message: shown(message), frames }))]);
    },
  );
});
