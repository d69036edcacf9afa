/** A filter as a tree; positions are offsets into the text it was read from. */
export type Filter =
  | { readonly kind: 'and' | 'or'; readonly parts: readonly Filter[] }
  | { readonly kind: 'not'; readonly part: Filter }
  | Restriction
  | { readonly kind: 'text'; readonly text: string; readonly at: number };

/** One field against one value. */
export interface Restriction {
  readonly kind: 'restriction';
  /** `os.version` is two parts; what follows `flags` or `attributes` is one, dots and all. */
  readonly field: FieldName;
  /** Name of the flag or attribute; null for other fields, and for the flags or attributes as a whole. */
  readonly key: string | null;
  readonly comparator: Comparator;
  readonly value: string;
  readonly at: number;
}

export const comparators = ['<=', '>=', '!=', '<', '>', '=', ':'] as const;
export type Comparator = (typeof comparators)[number];

/** How the values of a field compare. */
export type FieldOrder = 'version' | 'number' | 'none';

interface FieldMeaning {
  readonly order: FieldOrder;
  /** Text in which `:` looks for a part; in other fields it asks for the value as a whole. */
  readonly isText?: boolean;
  /** A field with a key behind it: `flags.night-map`. */
  readonly isMap?: boolean;
  /** What it is, as the completion says it. */
  readonly says: string;
}

/** Everything a filter may name. Names of circumstances are those of the OpenTelemetry semantic conventions. */
export const fields = {
  kind: { order: 'none', says: 'crash, hang, kill or error' },
  version: { order: 'version', says: 'version of the app, by version order' },
  build: { order: 'number', says: 'build number' },
  'build.type': { order: 'none', says: 'release, debug or what the app calls it' },
  'os.name': { order: 'none', says: 'operating system' },
  'os.version': { order: 'version', says: 'version of the operating system' },
  'device.model': { order: 'none', says: 'manufacturer and model' },
  'device.memory': { order: 'none', says: 'memory class' },
  'device.rooted': { order: 'none', says: 'true or false' },
  'device.emulator': { order: 'none', says: 'true or false' },
  country: { order: 'none', says: 'two letters' },
  locale: { order: 'none', says: 'language and region' },
  network: { order: 'none', says: 'wifi, cellular, …' },
  carrier: { order: 'none', says: 'of the mobile network' },
  orientation: { order: 'none', says: 'portrait, landscape or flat' },
  screen: { order: 'none', says: 'screen of the app that was shown last' },
  flags: { order: 'none', isMap: true, says: 'feature flag, and its variant' },
  attributes: { order: 'number', isMap: true, says: 'value that the app told' },
  type: { order: 'none', isText: true, says: 'exception or signal' },
  message: { order: 'none', isText: true, says: 'of the exception, numbers and ids left out' },
  stack: { order: 'none', isText: true, says: 'a function on the stack' },
  trail: { order: 'none', isText: true, says: 'what happened before' },
  session: { order: 'none', says: 'none, where a report names no session' },
  person: { order: 'none', says: 'the id that the app knows its user by' },
  installation: { order: 'none', says: 'id of the installation' },
} as const satisfies Readonly<Record<string, FieldMeaning>>;
export type FieldName = keyof typeof fields;

export const fieldNames = Object.keys(fields) as FieldName[];
export const meaningOf = (field: FieldName): FieldMeaning => fields[field];

/** The fields that a bare word is looked for in. */
export const searchedFields = ['type', 'message', 'stack', 'trail', 'attributes'] as const satisfies readonly FieldName[];

/** Every restriction of a filter, in order of appearance. */
export function restrictionsOf(filter: Filter | null): Restriction[] {
  if (filter === null) return [];
  if (filter.kind === 'restriction') return [filter];
  if (filter.kind === 'not') return restrictionsOf(filter.part);
  return filter.kind === 'text' ? [] : filter.parts.flatMap(restrictionsOf);
}

/** The conditions that must all hold, each of which can be taken out alone. */
export const conditionsOf = (filter: Filter | null): readonly Filter[] =>
  filter === null ? [] : filter.kind === 'and' ? filter.parts : [filter];

/** A filter of conditions that must all hold; null when there are none. */
export function allOf(conditions: readonly Filter[]): Filter | null {
  const flat = conditions.flatMap((one) => (one.kind === 'and' ? one.parts : [one]));
  return flat.length > 1 ? { kind: 'and', parts: flat } : (flat[0] ?? null);
}
