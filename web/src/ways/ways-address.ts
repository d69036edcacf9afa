import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import { parseScope, type Scope } from '@rough-ember/core/scope/scope';
import { parseSequence, printSequence, type Sequence, type StepPattern } from '@rough-ember/core/sequences/sequence';
import type { BadEnds } from '@rough-ember/core/stability/figures';
import { readEnds, stabilityParameters } from '../crash-free/stability-address';

/** How many sessions of each kind are looked at: at once, and when somebody asks for more. */
export const lookSizes = [500, 2_000, 8_000] as const;
export type LookSize = (typeof lookSizes)[number];

/** What the address of the ways holds. */
export interface WaysView {
  readonly scope: Scope;
  readonly badEnds: BadEnds;
  readonly sequence: Sequence;
  /** Null for a first look, and then the next. */
  readonly look: LookSize | null;
}

/** Reads the view from an address; null when the scope in it cannot be read. */
export function readWaysView(parameters: URLSearchParams): WaysView | null {
  const scope = parseScope(parameters);
  if (!scope.ok) return null;
  const sequence = parseSequence(parameters.get('sequence') ?? '');
  const look = lookSizes.find((size) => String(size) === parameters.get('look')) ?? null;
  return { scope: scope.value, badEnds: readEnds(parameters), sequence: sequence.ok ? sequence.value : [], look };
}

/** The parameters of a view, of the address and of the API alike. */
export function waysParameters({ scope, badEnds, sequence, look }: WaysView): string {
  const more = new URLSearchParams();
  if (sequence.length > 0) more.set('sequence', printSequence(sequence));
  if (look !== null) more.set('look', String(look));
  return [stabilityParameters({ scope, badEnds }), more.toString()].filter((part) => part !== '').join('&');
}

export const writeWaysView = (view: WaysView): string => {
  const written = waysParameters(view);
  return written === '' ? '' : `?${written}`;
};

/**
 * Where the steps that most reports of a case have in common are followed by all sessions; null where none of them is one that people
 * take. Steps are worded as in the conditions of a scope.
 */
export function addressOfCommonSteps(here: string, steps: readonly string[], kind: ReportKind): string | null {
  const taken = steps.flatMap((words): StepPattern[] => {
    const [, stepKind, name] = /^(screen|tap) (.+)$/.exec(words) ?? [];
    return stepKind && name ? [{ kind: stepKind as 'screen' | 'tap', name, outcome: null, withinMs: null }] : [];
  });
  if (taken.length === 0) return null;
  const sequence = [...taken, { kind, name: null, outcome: null, withinMs: null }];
  return `${here}/ways?sequence=${encodeURIComponent(printSequence(sequence))}`;
}
