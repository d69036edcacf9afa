import { versionSortKey } from '@rough-ember/core/version/version-order';

/** How a column is written in a line: numbers, booleans and texts as they are, times in ISO, bytes in hexadecimal, content in base64. */
export type ColumnForm = 'number' | 'flag' | 'text' | 'time' | 'day' | 'bytes' | 'content' | 'json' | 'case';

export interface TransferColumn {
  readonly column: string;
  readonly form: ColumnForm;
  readonly isOptional: boolean;
}

/** A part of an app that is taken along as lines: one table of it, row by row. */
export interface TransferPart {
  readonly table: string;
  /** What rows come one after the other by; a line's cursor is made of them. */
  readonly order: readonly string[];
  /** By the name in the line. */
  readonly columns: Readonly<Record<string, TransferColumn>>;
  /** Lines that are read at once. */
  readonly atOnce: number;
  /** What makes a row one that is there already, where the table has no key that says so. */
  readonly sameBy?: readonly string[];
  /** Columns that follow from others. */
  readonly derived?: (line: Readonly<Record<string, unknown>>) => Readonly<Record<string, string>>;
}

const snake = (name: string): string => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);

/** `{ number: 'number', closedIn: 'text?', where: 'where_text text' }`: the form of each column, and its name where it has another. */
function columnsOf(described: Readonly<Record<string, string>>): TransferPart['columns'] {
  return Object.fromEntries(
    Object.entries(described).map(([name, text]) => {
      const [form = '', column = snake(name)] = text.split(' ').reverse();
      return [name, { column, form: form.replace('?', '') as ColumnForm, isOptional: form.endsWith('?') }];
    }),
  );
}

const ofVersion = ({ version }: Readonly<Record<string, unknown>>) => ({ version_key: versionSortKey(String(version)) });

const circumstances = {
  version: 'text',
  build: 'text',
  buildType: 'text',
  osName: 'text?',
  osVersion: 'text?',
  deviceModel: 'text?',
  country: 'text?',
  installationId: 'bytes?',
  personKey: 'bytes?',
  contactKey: 'bytes?',
};

/** Every part but the app itself, in the order in which they are taken in: what others name comes before them. */
export const transferParts = {
  attributes: {
    table: 'filterable_attributes',
    order: ['name'],
    atOnce: 500,
    columns: columnsOf({ name: 'text', askedBy: 'text', askedAt: 'time' }),
  },
  rollouts: {
    table: 'rollouts',
    order: ['id'],
    atOnce: 500,
    columns: columnsOf({
      version: 'text',
      action: 'text',
      percent: 'number?',
      at: 'time',
      by: 'by_whom text',
      commit: 'commit_id text',
      note: 'text',
    }),
    sameBy: ['version', 'action', 'at'],
    derived: ofVersion,
  },
  flags: {
    table: 'flag_changes',
    order: ['id'],
    atOnce: 500,
    columns: columnsOf({ flag: 'text', variant: 'text', percent: 'number?', at: 'time', by: 'by_whom text', note: 'text' }),
    sameBy: ['flag', 'variant', 'at'],
  },
  views: {
    table: 'views',
    order: ['id'],
    atOnce: 500,
    columns: columnsOf({ name: 'text', address: 'text', madeBy: 'text', forTeam: 'flag', madeAt: 'time' }),
    sameBy: ['name', 'made_by', 'made_at'],
  },
  sheets: {
    table: 'sheets',
    order: ['id'],
    atOnce: 100,
    columns: columnsOf({ title: 'text', forTeam: 'flag', scope: 'text', charts: 'text', madeBy: 'text', changedAt: 'time' }),
    sameBy: ['title', 'made_by', 'changed_at'],
  },
  cases: {
    table: 'cases',
    order: ['number'],
    atOnce: 500,
    columns: columnsOf({
      number: 'number',
      kind: 'text',
      state: 'text',
      what: 'text',
      where: 'where_text text',
      message: 'text?',
      culprit: 'json?',
      provisional: 'flag',
      createdAt: 'time',
      excluded: 'flag',
      closedIn: 'text?',
      mute: 'json?',
      assignee: 'text?',
    }),
  },
  'merged-cases': {
    table: 'cases',
    order: ['number'],
    atOnce: 500,
    columns: columnsOf({ number: 'number', into: 'merged_into case' }),
  },
  'case-redirects': {
    table: 'case_redirects',
    order: ['number'],
    atOnce: 500,
    columns: columnsOf({ number: 'number', case: 'case_id case' }),
  },
  'case-events': {
    table: 'case_events',
    order: ['id'],
    atOnce: 500,
    columns: columnsOf({
      case: 'case_id case',
      at: 'time',
      actor: 'text',
      kind: 'text',
      detail: 'json?',
      before: 'before_status json?',
      undone: 'flag',
    }),
    sameBy: ['case_id', 'at', 'actor', 'kind'],
  },
  reports: {
    table: 'reports',
    order: ['id'],
    atOnce: 200,
    columns: columnsOf({
      reportId: 'bytes',
      kind: 'text',
      occurredAt: 'time',
      receivedAt: 'time',
      processedAt: 'time?',
      ...circumstances,
      state: 'text',
      problem: 'text?',
      case: 'case_id case?',
      excluded: 'flag',
      sessionId: 'bytes?',
      groupingKey: 'bytes?',
      variantKey: 'bytes?',
      triedBy: 'text?',
      weight: 'number',
    }),
    derived: ofVersion,
  },
  attachments: {
    table: 'attachments',
    order: ['id'],
    atOnce: 4,
    columns: columnsOf({
      attachmentId: 'bytes',
      reportId: 'bytes',
      kind: 'text',
      name: 'text',
      mediaType: 'text',
      sizeBytes: 'number',
      content: 'content',
      receivedAt: 'time',
    }),
  },
  sessions: {
    table: 'sessions',
    order: ['session_id'],
    atOnce: 1_000,
    columns: columnsOf({
      sessionId: 'bytes',
      started: 'flag',
      ...circumstances,
      excluded: 'flag',
      state: 'text',
      startedAt: 'time',
      lastAt: 'time',
      durationMs: 'number',
      errors: 'number',
      crashedAt: 'time?',
      firstSequence: 'number',
      lastSequence: 'number',
      memoryClass: 'text?',
      carrier: 'text?',
      body: 'json?',
      receivedAt: 'time',
    }),
    derived: ofVersion,
  },
  // Only of days whose sessions are gone: of all others the sums follow from the sessions.
  'session-days': {
    table: 'session_days',
    order: ['day'],
    atOnce: 10,
    columns: columnsOf({ day: 'day', rowCount: 'number', content: 'content' }),
  },
  'session-trails': {
    table: 'session_trails',
    order: ['session_id', 'event_hash'],
    atOnce: 1_000,
    columns: columnsOf({ sessionId: 'bytes', eventHash: 'bytes', at: 'time', receivedAt: 'time', event: 'json' }),
  },
} as const satisfies Readonly<Record<string, TransferPart>>;

export type TransferPartName = keyof typeof transferParts;
export const transferPartNames = Object.keys(transferParts) as TransferPartName[];
export const partOf = (name: TransferPartName): TransferPart => transferParts[name];
