import { setTimeout as pause } from 'node:timers/promises';
import { type AlertKind, alertKinds } from '@rough-ember/core/alerts/alert-rule';
import type { AlertNews, ToldCase } from '@rough-ember/core/alerts/compose-message';
import { commonSentence } from '@rough-ember/core/cases/common-sentence';
import { defaultScope, wholeScope } from '@rough-ember/core/scope/scope';
import { spanOf } from '@rough-ember/core/session-index/window';
import { compareVersions } from '@rough-ember/core/version/version-order';
import type { Alert } from '@rough-ember/store/alerts';
import type { App } from '@rough-ember/store/apps';
import { type CaseHead, loadCaseHeads, whereCasesLead } from '@rough-ember/store/cases';
import { loadReportDetail, versionsOfReports } from '@rough-ember/store/reports';
import type { DeskServices, Services } from '../services.ts';
import { wordLikelyChange } from '../sources/word-likely-change.ts';

/** Of so many cases of one message everything is told; of the rest their names. */
const toldInFull = 10;
const shownFrames = 3;

/** What makes an alert of a case void before anybody is told: somebody has dealt with it meanwhile. */
const dealtWith: Partial<Record<AlertKind, readonly CaseHead['state'][]>> = {
  'case-begins': ['closed', 'muted'],
  'case-returns': ['closed', 'muted'],
  'case-worse': ['closed', 'muted'],
  report: ['muted'],
};

type NewsServices = DeskServices & Pick<Services, 'publicUrl' | 'settings'>;

/** What is to be told of alerts of one app as things are now: with the figures of this moment, without what has been dealt with. */
export async function newsOfAlerts(
  services: NewsServices,
  app: App,
  alerts: readonly Alert[],
  evidenceMs = usualEvidenceMs,
): Promise<AlertNews[]> {
  const { database, publicUrl } = services;
  const leads = await whereCasesLead(database, [...new Set(alerts.flatMap(({ caseId }) => caseId ?? []))]);
  const ids = [...new Set(leads.values())];
  const heads = new Map((await loadCaseHeads(database, ids)).map((head) => [head.id, head]));
  const versions = await versionsOfReports(
    database,
    alerts.flatMap(({ reportRow }) => reportRow ?? []),
  );
  const told = await loadToldCases(services, app, { heads, ids: ids.slice(0, toldInFull), rows: rowsToTell(alerts, leads), evidenceMs });
  return alerts.flatMap((alert): AlertNews[] => {
    const { kind, at, reportRow, caseId } = alert;
    const about = { kind, at: at.toISOString(), app: app.name, acts: [] };
    if (caseId === null) {
      if (alert.told === null) return [];
      const { path, version, ...words } = alert.told;
      return [{ ...about, version, case: null, told: words, link: publicUrl + path }];
    }
    const head = heads.get(leads.get(caseId) ?? caseId);
    if (!head || !alertKinds[kind].isOfCase || dealtWith[kind]?.includes(head.state)) return [];
    const ref = `${app.prefix}-${head.number}`;
    const link = `${publicUrl}/apps/${app.slug}/cases/${ref}?last=all`;
    const version = reportRow === null ? null : (versions.get(reportRow) ?? null);
    return [
      {
        ...about,
        version,
        case: told.get(head.id) ?? bareCase(ref, head),
        told: null,
        link,
        acts: [
          { label: 'Mute for a day', link: `${link}&do=mute-a-day` },
          { label: 'Assign to me', link: `${link}&do=assign-to-me` },
        ],
      },
    ];
  });
}

const bareCase = (ref: string, { what, where, state, assignee }: CaseHead): ToldCase => ({
  ref,
  what,
  where,
  state,
  assignee,
  reports: 0,
  people: 0,
  firstVersion: '',
  lastVersion: '',
  frames: [],
  inCommon: '',
  likelyChange: null,
});

/** Of each case the report that its first alert is about, by its row. */
function rowsToTell(alerts: readonly Alert[], leads: ReadonlyMap<number, number>): Map<number, number> {
  const rows = new Map<number, number>();
  for (const { caseId, reportRow } of alerts) {
    const leadsTo = caseId === null ? undefined : leads.get(caseId);
    if (leadsTo !== undefined && reportRow !== null && !rows.has(leadsTo)) rows.set(leadsTo, reportRow);
  }
  return rows;
}

interface CasesToTell {
  readonly ids: readonly number[];
  readonly heads: ReadonlyMap<number, CaseHead>;
  readonly rows: ReadonlyMap<number, number>;
  readonly evidenceMs: number;
}

/** Some cases with their figures over all time, with the frames of the report that is told of, and with what can be found out in time. */
async function loadToldCases(
  services: NewsServices,
  app: App,
  { ids, heads, rows, evidenceMs }: CasesToTell,
): Promise<Map<number, ToldCase>> {
  const { database, reports } = services;
  if (ids.length === 0) return new Map();
  const now = Date.now();
  const ended = new AbortController();
  const late = pause(evidenceMs, undefined, { signal: ended.signal }).catch(() => {});
  /** What is not known in time is told without: it stands on the case once it is found. */
  const inTime = <Value>(work: Promise<Value>, without: Value): Promise<Value> =>
    Promise.race([work.catch(() => without), late.then(() => without)]);
  const evidence = ids.map((id) =>
    Promise.all([inTime(inCommonOf(services, app, id), ''), inTime<string | null>(wordLikelyChange(services, app, id), null)]),
  );
  // Counting takes in what has just come; histories are told of what is there.
  const counts = await Promise.all(ids.map((id) => reports.ask('countCase', app.id, id, wholeScope, now)));
  const histories = await reports.ask('historiesOf', app.id, ids, wholeScope, now);
  const told = await Promise.all(
    ids.map(async (id, at): Promise<[number, ToldCase][]> => {
      const head = heads.get(id);
      if (!head) return [];
      // What is looked at is about no report; the newest one shows where it breaks.
      const row = rows.get(id) ?? (await reports.ask('newestReports', app.id, id, wholeScope, now, 1))[0];
      const frames = row === undefined ? [] : await framesOf(database, row);
      const versions: string[] = (histories.get(id)?.byVersion ?? []).map((one: { version: string }) => one.version).sort(compareVersions);
      const [inCommon, likelyChange] = (await evidence[at]) as [string, string | null];
      const figures = { reports: counts[at]?.reports ?? 0, people: counts[at]?.people ?? 0 };
      const span = { firstVersion: versions[0] ?? '', lastVersion: versions.at(-1) ?? '' };
      return [[id, { ...bareCase(`${app.prefix}-${head.number}`, head), ...figures, ...span, frames, inCommon, likelyChange }]];
    }),
  );
  ended.abort();
  return new Map(told.flat());
}

/** What stands out among the people of a case, over the usual window, in a sentence. */
async function inCommonOf({ reports, sessions }: NewsServices, app: App, caseId: number): Promise<string> {
  const now = Date.now();
  const scope = { ...defaultScope, kinds: wholeScope.kinds };
  const everybody = await sessions.ask('personsByValue', app.id, scope, spanOf(scope, now));
  const standOuts = await reports.ask('standOut', app.id, caseId, scope, now, everybody);
  return commonSentence(standOuts)
    .map(({ text }) => text)
    .join('')
    .trim();
}

/** A message is to leave within 5 s of its fact, of which two are spent on gathering. */
const usualEvidenceMs = 1_000;

/** Our own frames of a report, the innermost first, each as `Class.method (File.kt:12)`; those of the runtime where none is ours. */
async function framesOf(database: Services['database'], row: number): Promise<string[]> {
  const readable = (await loadReportDetail(database, row))?.readable;
  const stack = readable?.exceptions.find(({ frames }) => frames.some((one) => one.ours)) ?? readable?.exceptions[0];
  const thread = readable?.threads.find((one) => one.frames.some((frame) => frame.ours));
  const frames = stack?.frames ?? thread?.frames ?? [];
  const ours = frames.filter((one) => one.ours);
  return (ours.length > 0 ? ours : frames).slice(0, shownFrames).map(({ function: name, file, line }) => {
    const place = file === null ? '' : ` (${file.split('/').at(-1)}${line === null ? '' : `:${line}`})`;
    return `${name}${place}`;
  });
}
