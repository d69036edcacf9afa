/** What can be counted: from where it is, and what it means. The names are those of the written question. */
export const counts = {
  reports: { from: 'reports', says: 'reports of these kinds, those that were sampled out among them' },
  cases: { from: 'reports', says: 'different cases that the reports are in' },
  'affected people': { from: 'reports', says: 'people who had such a report' },
  sessions: { from: 'sessions', says: 'sessions that were started' },
  people: { from: 'sessions', says: 'people who had a session' },
  'new people': { from: 'sessions', says: 'people who were never seen before' },
  'crashed sessions': { from: 'sessions', says: 'sessions that ended in a crash' },
  'hung sessions': { from: 'sessions', says: 'sessions in which the app stopped answering' },
  'killed sessions': { from: 'sessions', says: 'sessions that the system ended, for memory or time' },
  'sessions crashed at start': { from: 'sessions', says: 'sessions that crashed in their first five seconds' },
  'sessions with errors': { from: 'sessions', says: 'sessions with an error that the app handled' },
  'people with a crash': { from: 'sessions', says: 'people with a session that crashed' },
  'people with a hang': { from: 'sessions', says: 'people with a session that hung' },
  'people with a kill': { from: 'sessions', says: 'people with a session that the system ended' },
  'screen visits': { from: 'activities', says: 'how often screens of the app were shown' },
  requests: { from: 'activities', says: 'requests that the app sent to servers' },
  'failed requests': { from: 'activities', says: 'requests without an answer, or with one of 400 and higher' },
} as const satisfies Readonly<Record<string, { readonly from: 'reports' | 'sessions' | 'activities'; readonly says: string }>>;

export type CountName = keyof typeof counts;
export type CountOf<From extends (typeof counts)[CountName]['from']> = {
  [Name in CountName]: (typeof counts)[Name]['from'] extends From ? Name : never;
}[CountName];

export const countNames = Object.keys(counts) as CountName[];

/** Shares that have a name of their own: of all of one count, those that are not in another. */
export const crashFree = {
  'crash-free sessions': { count: 'crashed sessions', per: 'sessions', says: 'sessions that did not end in a crash, of all' },
  'crash-free people': { count: 'people with a crash', per: 'people', says: 'people without a session that crashed, of all' },
} as const satisfies Readonly<Record<string, { readonly count: CountName; readonly per: CountName; readonly says: string }>>;
export type CrashFreeName = keyof typeof crashFree;
export const crashFreeNames = Object.keys(crashFree) as CrashFreeName[];

/** What is said of many numbers together. */
export const statistics = ['sum', 'mean', 'median', 'p90', 'p95', 'p99'] as const;
export type Statistic = (typeof statistics)[number];

/** Numbers that statistics are made of, beside attributes. */
export const requestTime = 'request time';

/** What is counted, by itself or against something else. */
export type CountedMeasure =
  | { readonly kind: 'count'; readonly count: CountName }
  /** So many of one in a thousand of the other. */
  | { readonly kind: 'rate'; readonly count: CountName; readonly per: CountName }
  | { readonly kind: 'crash-free'; readonly name: CrashFreeName };

/** What is said of many numbers. */
export type StatisticMeasure =
  /** Of the values of an attribute that are numbers; `of` says whose. */
  | { readonly kind: 'attribute'; readonly statistic: Statistic; readonly attribute: string; readonly of: 'reports' | 'sessions' }
  /** Milliseconds that requests took. */
  | { readonly kind: 'request time'; readonly statistic: Exclude<Statistic, 'sum' | 'mean'> };

export type Measure = CountedMeasure | StatisticMeasure;

export const isStatistic = (measure: Measure): measure is StatisticMeasure =>
  measure.kind === 'attribute' || measure.kind === 'request time';

/** The one or two counts that a measure is made of. */
export function countsOf(measure: CountedMeasure): { readonly count: CountName; readonly per: CountName | null } {
  switch (measure.kind) {
    case 'count':
      return { count: measure.count, per: null };
    case 'rate':
      return measure;
    case 'crash-free':
      return crashFree[measure.name];
  }
}

/** Whether any of it is counted from reports, of which a scope says the kinds. */
export function asksReports(measure: Measure): boolean {
  if (isStatistic(measure)) return measure.kind === 'attribute' && measure.of === 'reports';
  const { count, per } = countsOf(measure);
  return counts[count].from === 'reports' || (per !== null && counts[per].from === 'reports');
}

/** Whether any of it is counted from sessions, which tell fewer fields than reports. */
export function asksSessions(measure: Measure): boolean {
  if (isStatistic(measure)) return measure.kind === 'request time' || measure.of === 'sessions';
  const { count, per } = countsOf(measure);
  return counts[count].from !== 'reports' || (per !== null && counts[per].from !== 'reports');
}

/** Whether everything that is counted by one name is counted by the other too, so that a rate of them is a share. */
export function isPartOf(count: CountName, per: CountName): boolean {
  if (per === 'sessions') return / sessions$|^sessions /.test(count);
  if (per === 'people') return count === 'affected people' || count === 'new people' || count.startsWith('people with');
  return per === 'requests' && count === 'failed requests';
}
