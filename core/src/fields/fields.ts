import type { Report } from '../report/report.ts';
import { lastScreen } from '../report/trail.ts';

/** How the values of a field compare. */
export type FieldOrder = 'version' | 'number' | 'none';

type Told = string | number | boolean | null | undefined;

/** A field of reports and sessions: where it comes from, how it is named, and what it can be used for. */
export interface Field {
  readonly order: FieldOrder;
  /** What it is, as the completion says it. */
  readonly says: string;
  /** What it is called in a sentence, where that is not its name. */
  readonly called?: string;
  /** Its value of a report; fields without this are made of stacks, trails and maps by `termsOfReport`. */
  readonly ofReport?: (report: Report) => Told;
  /** The column of stored sessions that tells it: by such a field sessions are split, compared and filtered. */
  readonly sessionColumn?: string;
  /** Text in which `:` looks for a part; in other fields it asks for the value as a whole. */
  readonly isText?: boolean;
  /** A field with a key behind it: `flags.night-map`. */
  readonly isMap?: boolean;
  /** A bare word is looked for in it. */
  readonly isSearched?: boolean;
  /** Its values are told where the people of a case have one in common. Those that say who somebody is, or what broke, stand out in every case. */
  readonly standsOut?: boolean;
  /** It says what somebody did or who they are: gone when what a report held goes, while the others go on being counted. */
  readonly isContent?: boolean;
}

/** What a device is called: its manufacturer, where that is known, and its model. */
export const deviceName = ({ manufacturer, model }: NonNullable<Report['device']>): string =>
  [manufacturer, model].filter(Boolean).join(' ');

/** The value of the field `session` of reports that name none. */
export const noSession = 'none';

/**
 * Every field, in the order in which they are offered: filters, indexes, breakdowns, comparisons, forms and the documentation follow from
 * this table. Names of circumstances are those of the OpenTelemetry semantic conventions.
 */
export const fields = {
  kind: { order: 'none', says: 'crash, hang, kill or error' },
  version: {
    order: 'version',
    says: 'version of the app, by version order',
    ofReport: ({ version }) => version,
    sessionColumn: 'version',
    standsOut: true,
  },
  build: { order: 'number', says: 'build number', ofReport: ({ build }) => build, sessionColumn: 'build', standsOut: true },
  'build.type': {
    order: 'none',
    says: 'release, debug or what the app calls it',
    called: 'build type',
    ofReport: ({ buildType }) => buildType ?? 'release',
    sessionColumn: 'build_type',
    standsOut: true,
  },
  'os.name': {
    order: 'none',
    says: 'operating system',
    called: 'system',
    ofReport: ({ os }) => os?.name,
    sessionColumn: 'os_name',
    standsOut: true,
  },
  'os.version': {
    order: 'version',
    says: 'version of the operating system',
    called: 'system version',
    ofReport: ({ os }) => os?.version,
    sessionColumn: 'os_version',
    standsOut: true,
  },
  'device.model': {
    order: 'none',
    says: 'manufacturer and model',
    called: 'device',
    ofReport: ({ device }) => device && deviceName(device),
    sessionColumn: 'device_model',
    standsOut: true,
  },
  'device.memory': {
    order: 'none',
    says: 'memory class',
    called: 'memory',
    ofReport: ({ device }) => device?.memoryClass,
    sessionColumn: 'memory_class',
    standsOut: true,
  },
  'device.rooted': { order: 'none', says: 'true or false', called: 'rooted', ofReport: ({ device }) => device?.rooted, standsOut: true },
  'device.emulator': {
    order: 'none',
    says: 'true or false',
    called: 'emulator',
    ofReport: ({ device }) => device?.emulator,
    standsOut: true,
  },
  country: { order: 'none', says: 'two letters', ofReport: ({ country }) => country, sessionColumn: 'country', standsOut: true },
  locale: { order: 'none', says: 'language and region', ofReport: ({ locale }) => locale, standsOut: true },
  network: { order: 'none', says: 'wifi, cellular, …', ofReport: ({ network }) => network, standsOut: true },
  carrier: {
    order: 'none',
    says: 'of the mobile network',
    ofReport: ({ carrier }) => carrier,
    sessionColumn: 'carrier',
    standsOut: true,
  },
  orientation: { order: 'none', says: 'portrait, landscape or flat', ofReport: ({ device }) => device?.orientation, standsOut: true },
  // Reports that were stored before a field existed do not have it.
  screen: { order: 'none', says: 'screen of the app that was shown last', ofReport: ({ trail }) => lastScreen(trail ?? []) },
  flags: { order: 'none', isMap: true, says: 'feature flag, and its variant', standsOut: true },
  attributes: { order: 'number', isMap: true, says: 'value that the app told', isSearched: true, standsOut: true },
  type: { order: 'none', isText: true, says: 'exception or signal', isSearched: true },
  message: { order: 'none', isText: true, says: 'of the exception, numbers and ids left out', isSearched: true, isContent: true },
  stack: { order: 'none', isText: true, says: 'a function on the stack', isSearched: true },
  trail: { order: 'none', isText: true, says: 'what happened before', isSearched: true, isContent: true },
  session: {
    order: 'none',
    says: 'none, where a report names no session',
    ofReport: ({ sessionId }) => (sessionId ? undefined : noSession),
  },
  person: { order: 'none', says: 'the id that the app knows its user by', ofReport: ({ personId }) => personId, isContent: true },
  installation: { order: 'none', says: 'id of the installation', ofReport: ({ installationId }) => installationId, isContent: true },
} as const satisfies Readonly<Record<string, Field>>;
export type FieldName = keyof typeof fields;

export const fieldNames = Object.keys(fields) as FieldName[];
export const meaningOf = (field: FieldName): Field => fields[field];

/** The fields that something holds of, in their order. */
export const fieldsWhere = (holds: (field: Field) => unknown): FieldName[] => fieldNames.filter((name) => holds(fields[name]));

/** What a field is called in a sentence. */
export function wordField(field: FieldName, key: string | null): string {
  if (key !== null) return field === 'flags' ? `flag ${key}` : key;
  return meaningOf(field).called ?? field;
}
