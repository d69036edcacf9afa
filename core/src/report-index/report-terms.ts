import { type FieldName, fieldNames, fieldsWhere, meaningOf } from '../fields/fields.ts';
import { normaliseMessage } from '../grouping/normalise-message.ts';
import type { Report } from '../report/report.ts';
import type { TrailEvent } from '../report/trail.ts';
import type { ReadableReport } from '../symbolicate/readable-report.ts';

/** One value that a report has in a field; for a flag or attribute the key says which. */
export interface Term {
  readonly field: FieldName;
  /** Name of the flag or attribute, else empty. */
  readonly key: string;
  readonly value: string;
}

/** Fields that go when what a report held goes, while the others go on being counted. */
export const fieldsOfContent: readonly FieldName[] = fieldsWhere(({ isContent }) => isContent);

const longestValue = 300;
const longestStack = 3_000;
const mostSteps = 100;

/**
 * Everything by which a report can be found and counted. Of the attributes those are taken that the app has made
 * filterable; a list gives a term for each element.
 */
export function termsOfReport(report: Report, readable: ReadableReport, filterable: ReadonlySet<string>): Term[] {
  const terms: Term[] = [];
  const add = (field: FieldName, value: string | number | boolean | null | undefined, key = '') => {
    const text = value === null || value === undefined ? '' : String(value).slice(0, longestValue).trim();
    if (text !== '') terms.push({ field, key: key.slice(0, 200), value: text });
  };
  for (const name of fieldNames) add(name, meaningOf(name).ofReport?.(report));
  for (const [name, variant] of Object.entries(report.flags ?? {})) add('flags', variant, name);
  for (const [name, value] of Object.entries(report.attributes ?? {}))
    if (filterable.has(name)) for (const element of Array.isArray(value) ? value : [value]) add('attributes', element, name);
  for (const { type, message } of readable.exceptions) {
    add('type', type);
    if (message !== null) add('message', normaliseMessage(message));
  }
  const functions = [...readable.exceptions, ...readable.threads.filter((thread) => thread.crashed)].flatMap(({ frames }) =>
    frames.map((frame) => frame.function),
  );
  if (functions.length > 0) terms.push({ field: 'stack', key: '', value: [...new Set(functions)].join('\n').slice(0, longestStack) });
  for (const step of stepsOf(report.trail ?? [])) add('trail', step);
  return withoutRepeats(terms);
}

/** The different steps of a trail in words that are the same for every report: `screen map`, `tap offline`, `request GET tiles… 504`. */
export function stepsOf(trail: readonly TrailEvent[]): string[] {
  const steps = new Set<string>();
  for (const event of trail) if (steps.size < mostSteps) steps.add(wordStep(event));
  return [...steps];
}

export function wordStep(event: TrailEvent): string {
  switch (event.kind) {
    case 'screen':
      return `screen ${event.name}`;
    case 'tap':
      return `tap ${event.target}`;
    case 'request':
      return `request ${event.method} ${event.host}${event.path} ${event.status ?? 'without answer'}`;
    case 'log':
      return `${event.level} ${normaliseMessage(event.message)}`;
    case 'lifecycle':
      return event.state;
    case 'flag':
      return `flag ${event.name} ${event.variant}`;
    case 'custom':
      return event.name;
  }
}

function withoutRepeats(terms: readonly Term[]): Term[] {
  const seen = new Map<string, Term>();
  for (const term of terms) seen.set(nameOfTerm(term), term);
  return [...seen.values()];
}

/** Equal for equal terms. */
export const nameOfTerm = ({ field, key, value }: Term): string => `${field}\u0000${key}\u0000${value}`;
