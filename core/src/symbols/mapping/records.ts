/** At the call of an outline: which of its own lines stands for which line of the caller. */
export interface OutlinePosition {
  readonly outlineLine: number;
  readonly line: number;
}

/** When a stack begins with a frame, how many of the calls inlined into it nobody wrote. */
export interface RewriteRule {
  /** Class name, as the program prints it, of the exception that the rule asks for; null for any. */
  readonly thrown: string | null;
  readonly removedInnerFrames: number;
}

const maximumPositions = 10_000;
const maximumRemoved = 1_000;

/** The positions of an `outlineCallsite` record: R8's `doc/retrace.md`, "Outline Call Site". */
export function outlinePositions(record: object): OutlinePosition[] {
  const { positions } = record as { positions?: unknown };
  if (typeof positions !== 'object' || positions === null) return [];
  return Object.entries(positions)
    .slice(0, maximumPositions)
    .map(([outlineLine, line]) => ({ outlineLine: Number(outlineLine), line: Number(line) }))
    .filter((one) => isLine(one.outlineLine) && isLine(one.line));
}

/** The rule of a `rewriteFrame` record: section "RewriteFrame". One with a condition or action that is not known is none. */
export function rewriteRule(record: object): RewriteRule | null {
  const { conditions, actions } = record as { conditions?: unknown; actions?: unknown };
  if (!Array.isArray(conditions) || !Array.isArray(actions)) return null;
  let thrown: string | null = null;
  for (const condition of conditions) {
    const match = /^throws\(L([^;]+);\)$/.exec(String(condition));
    if (!match || thrown !== null) return null;
    thrown = (match[1] as string).replaceAll('/', '.');
  }
  let removedInnerFrames = 0;
  for (const action of actions) {
    const match = /^removeInnerFrames\((\d{1,4})\)$/.exec(String(action));
    if (!match) return null;
    removedInnerFrames += Number(match[1]);
  }
  return removedInnerFrames > 0 && removedInnerFrames <= maximumRemoved ? { thrown, removedInnerFrames } : null;
}

const isLine = (value: number): boolean => Number.isInteger(value) && value >= 0 && value <= 0x7fff_ffff;
