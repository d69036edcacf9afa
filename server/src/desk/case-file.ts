import { setTimeout as pause } from 'node:timers/promises';
import type { DeskSettings } from '@rough-ember/core/cases/desk-settings';
import type { GroupingExplanation } from '@rough-ember/core/grouping/group-report';
import { formatFrame } from '@rough-ember/core/report/format-frame';
import type { Report, ReportedThread } from '@rough-ember/core/report/report';
import { type Scope, wholeScope } from '@rough-ember/core/scope/scope';
import { spanOf } from '@rough-ember/core/session-index/window';
import { wordFit } from '@rough-ember/core/symbolicate/judge-fit';
import type { ReadableReport, SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { isSameVersion } from '@rough-ember/core/version/version-order';
import { listAccounts } from '@rough-ember/store/accounts';
import { type App, readDeskSettings } from '@rough-ember/store/apps';
import { type AttachmentSummary, listAttachments } from '@rough-ember/store/attachments';
import { type CaseEvent, listCaseEvents } from '@rough-ember/store/case-events';
import { findCaseId } from '@rough-ember/store/cases';
import { listFilterable } from '@rough-ember/store/filterable-attributes';
import { countReportsInWork } from '@rough-ember/store/jobs';
import { findReport, findReportPlace, loadReportDetail, type ReportDetail } from '@rough-ember/store/reports';
import { listRolloutSteps } from '@rough-ember/store/rollouts';
import { z } from 'zod';
import { reaches } from '../accounts/reach.ts';
import { ApiError } from '../errors.ts';
import type { DeskServices } from '../services.ts';
import { type CaseItem, latestVersions, loadItems, loadSessionsOfVersions, loadVersions, type StripVersion } from './case-list.ts';

/** One stack of a report in both forms. */
export interface RawStack {
  readonly title: string;
  readonly frames: readonly string[];
}

/** A symbol file that the stack lacks, and the build it belongs to. */
export interface MissingSymbols extends SymbolNeed {
  readonly version: string;
  readonly build: string;
}

/** One report of a case. Times are ISO texts in UTC. */
export interface ReportView {
  readonly id: string;
  readonly occurredAt: string;
  readonly receivedAt: string;
  readonly version: string;
  readonly build: string;
  readonly os: Report['os'];
  readonly device: Report['device'];
  readonly installationId: string | null;
  readonly personId: string | null;
  readonly buildType: string;
  readonly sessionId: string | null;
  readonly circumstances: readonly { readonly name: string; readonly value: string }[];
  readonly trail: Report['trail'];
  readonly flags: Report['flags'];
  readonly attributes: Report['attributes'];
  readonly threads: readonly Pick<ReportedThread, 'id' | 'state' | 'waitsFor' | 'registers'>[];
  /** What was changed of it so that it could be kept. */
  readonly remarks: readonly string[];
  /** What it held has gone by the retention of the app; it is still counted. */
  readonly isEmptied: boolean;
  /** Why it could not be processed; null when it was, or still waits. */
  readonly problem: string | null;
  readonly sections: Report['sections'];
  readonly attachments: readonly AttachmentSummary[];
  readonly readable: ReadableReport;
  readonly raw: readonly RawStack[];
  readonly missing: readonly MissingSymbols[];
  /** Symbol files that are there and seem to be of another build. */
  readonly unfitting: readonly (MissingSymbols & { readonly misfit: string })[];
  readonly explanation: GroupingExplanation | null;
}

/** Something that happened to a case. */
export type CaseEventView = Omit<CaseEvent, 'at'> & { readonly at: string };

/** Everything the case file shows. */
export interface CaseFile {
  readonly item: CaseItem;
  /** People with a session in the scope, whether they met it or not; null where sessions do not tell. */
  readonly activePeople: number | null;
  /** When the version that it began in first went to anybody, as its rollout tells; null where none was recorded. */
  readonly releasedAt: string | null;
  readonly stripVersions: readonly StripVersion[];
  /** The number that was asked for when its reports have moved here. */
  readonly movedFrom: string | null;
  /** No report lies in the scope that was asked for; this shows all of them. */
  readonly outsideScope: boolean;
  readonly report: ReportView;
  /** 0 is the newest report of the scope. */
  readonly position: number;
  /** Positions of the reports to look at first: the one with most in common with the others, and the one that tells the most. */
  readonly typical: number;
  readonly complete: number;
  /** Reports of this case that are being named again, since a symbol file came or went. */
  readonly reportsInWork: number;
  /** What happened to the case, the newest first. */
  readonly history: readonly CaseEventView[];
  /** Who may be asked to look after it. */
  readonly colleagues: readonly string[];
  /** Attributes that can be filtered by. */
  readonly filterable: readonly string[];
  readonly settings: DeskSettings;
  readonly now: string;
}

export interface CaseFileQuery {
  readonly app: App;
  /** `LG-142` */
  readonly ref: string;
  readonly scope: Scope;
  readonly position: number;
  readonly now: Date;
}

/** The number of a case reference of this app, or null. */
export function parseCaseRef(app: App, ref: string): number | null {
  const match = /^([A-Za-z0-9]{1,10})-(\d{1,9})$/.exec(ref);
  return match && match[1]?.toUpperCase() === app.prefix.toUpperCase() ? Number(match[2]) : null;
}

/**
 * Loads a case with one of its reports. A case outside the scope is shown over all time, since whoever follows a
 * link wants to see it; null when there is no such case, or nothing in it yet.
 */
export async function loadCaseFile(services: DeskServices, { app, ref, scope, position, now }: CaseFileQuery): Promise<CaseFile | null> {
  const number = parseCaseRef(app, ref);
  if (number === null) return null;
  // The last report of a case may move away between two questions; then its number leads elsewhere, so it is asked again.
  for (let attempt = 0; attempt < 2; attempt++) {
    const caseId = await findCaseId(services.database, app.id, number);
    if (caseId === null) return null;
    const query = { app, ref, position, now };
    const inScope = await loadInScope(services, { ...query, scope }, caseId);
    if (inScope) return inScope;
    const outside = await loadInScope(services, { ...query, scope: wholeScope }, caseId);
    if (outside) return { ...outside, outsideScope: true };
  }
  return null;
}

async function loadInScope(services: DeskServices, query: CaseFileQuery, caseId: number): Promise<CaseFile | null> {
  const { database, reports } = services;
  const { app, ref, scope, now } = query;
  const [count, chosen, versions, reportsInWork, history, accounts, filterable, settings, used, steps] = await Promise.all([
    loadSessionsOfVersions(services, app, scope, now).then((sessions) =>
      reports.ask('countCase', app.id, caseId, scope, now.getTime(), sessions),
    ),
    reports.ask('caseReports', app.id, caseId, scope, now.getTime(), query.position),
    loadVersions(services, app),
    countReportsInWork(database, caseId),
    listCaseEvents(database, caseId),
    listAccounts(database),
    listFilterable(database, app.id),
    readDeskSettings(database, app.id),
    services.sessions.ask('sums', app.id, scope, spanOf(scope, now.getTime())),
    listRolloutSteps(database, app.id),
  ]);
  if (!count || chosen.reportRow === null) return null;
  const stripVersions = latestVersions(versions);
  const [detail, [item]] = await Promise.all([
    loadReportDetail(database, chosen.reportRow),
    loadItems(services, { app, scope, now, counts: [count], stripVersions }),
  ]);
  if (!detail || !item) return null;
  return {
    item,
    activePeople: used.persons >= item.people && used.persons > 0 ? used.persons : null,
    releasedAt: steps.find((one) => isSameVersion(one.version, item.firstVersion))?.at ?? null,
    stripVersions,
    movedFrom: item.ref === ref.toUpperCase() ? null : ref,
    outsideScope: false,
    report: toReportView(detail, await listAttachments(database, app.id, detail.reportId)),
    position: chosen.position,
    typical: chosen.typical,
    complete: chosen.complete,
    reportsInWork,
    history: history.map(({ at, ...event }) => ({ ...event, at: at.toISOString() })),
    colleagues: accounts.filter((one) => one.role !== 'viewer' && reaches(one, app.id)).map((one) => one.email),
    filterable,
    settings,
    now: now.toISOString(),
  };
}

/** As `loadCaseFile`; a case that is not there is an error. */
export async function requireCaseFile(services: DeskServices, query: CaseFileQuery): Promise<CaseFile> {
  const file = await loadCaseFile(services, query);
  if (!file) throw new ApiError('not-found', `There is no case ${query.ref.slice(0, 30)} in ${query.app.name}.`);
  return file;
}

const reportIdSchema = z.uuid();

/** Whoever has just sent a report and opens it waits for its case: so long, looking so often. */
const patienceMs = 10_000;
const lookMs = 250;

/** Where a report is to be looked at: its case, and its place there over all time; null when it is in no case, nor will be at once. */
export async function placeOfReport(
  { database, reports }: DeskServices,
  { app, reportId, now }: { app: App; reportId: string; now: Date },
): Promise<{ ref: string; position: number } | null> {
  if (!reportIdSchema.safeParse(reportId).success) return null;
  let found = await findReportPlace(database, app.id, reportId);
  if (!found && !(await findReport(database, app.id, reportId))) return null;
  for (let waitedMs = 0; !found && waitedMs < patienceMs; waitedMs += lookMs) {
    await pause(lookMs);
    found = await findReportPlace(database, app.id, reportId);
  }
  if (!found) return null;
  const position = await reports.ask('positionOf', app.id, found.caseId, wholeScope, now.getTime(), found.row);
  return { ref: `${app.prefix}-${found.number}`, position: position ?? 0 };
}

/** One report alone, in readable form; one that is not there is an error. */
export async function requireReportView({ database }: Pick<DeskServices, 'database'>, app: App, reportId: string): Promise<ReportView> {
  const detail = reportIdSchema.safeParse(reportId).success ? await findReport(database, app.id, reportId) : null;
  if (!detail) throw new ApiError('not-found', `There is no report ${reportId.slice(0, 40)} in ${app.name}.`);
  return toReportView(detail, await listAttachments(database, app.id, detail.reportId));
}

function toReportView({ report, readable, explanation, ...summary }: ReportDetail, attachments: readonly AttachmentSummary[]): ReportView {
  return {
    id: summary.reportId,
    occurredAt: summary.occurredAt.toISOString(),
    receivedAt: summary.receivedAt.toISOString(),
    version: summary.version,
    build: summary.build,
    os: report.os,
    device: report.device,
    installationId: report.installationId,
    personId: report.personId,
    buildType: report.buildType ?? 'release',
    sessionId: report.sessionId ?? null,
    circumstances: circumstancesOf(report),
    // Reports that were stored before a field existed do not have it.
    trail: report.trail ?? [],
    flags: report.flags ?? {},
    attributes: report.attributes,
    threads: report.threads.map(({ id = null, state = null, waitsFor = null, registers = {} }) => ({ id, state, waitsFor, registers })),
    sections: report.sections ?? [],
    remarks: report.remarks ?? [],
    isEmptied: summary.state === 'emptied',
    problem: summary.problem,
    attachments,
    readable: readable ?? { exceptions: [], threads: [], needs: [] },
    raw: rawStacks(report),
    missing: (readable?.needs ?? [])
      .filter((need) => !need.found)
      .map(({ kind, symbolId, name }) => ({ version: summary.version, build: summary.build, kind, symbolId, name })),
    unfitting: (readable?.needs ?? []).flatMap(({ kind, symbolId, name, found, frames }) => {
      const misfit = found && frames ? wordFit(frames) : null;
      return misfit === null ? [] : [{ version: summary.version, build: summary.build, kind, symbolId, name, misfit }];
    }),
    explanation,
  };
}

const megabytes = (bytes: number): string => `${Math.round(bytes / 1_048_576).toLocaleString('en')} MB`;

/** What was told of the device and its surroundings at that moment, in words; what was not told is left out. */
function circumstancesOf({
  device,
  os,
  locale,
  country,
  network,
  carrier,
  sideLoaded,
  contact,
}: Report): { name: string; value: string }[] {
  const amount = (one: { totalBytes: number | null; freeBytes: number | null } | null | undefined) =>
    one &&
    [one.freeBytes !== null && `${megabytes(one.freeBytes)} free`, one.totalBytes !== null && `of ${megabytes(one.totalBytes)}`]
      .filter(Boolean)
      .join(' ');
  const yesOrNo = (value: boolean | null | undefined) => (value === null || value === undefined ? null : value ? 'yes' : 'no');
  const battery = device?.batteryPercent ?? null;
  const facts: [string, string | null | undefined][] = [
    ['System build', os?.build],
    ['Memory', amount(device?.memory)],
    ['Memory class', device?.memoryClass],
    ['Disk', amount(device?.disk)],
    ['Battery', battery === null ? null : `${battery} %${device?.charging ? ', charging' : ''}`],
    ['Orientation', device?.orientation],
    ['Rooted', yesOrNo(device?.rooted)],
    ['Emulator', yesOrNo(device?.emulator)],
    ['Side-loaded', yesOrNo(sideLoaded)],
    ['Locale', locale],
    ['Country', country],
    ['Network', [network, carrier].filter(Boolean).join(', ')],
    ['Contact', contact],
  ];
  return facts.flatMap(([name, value]) => (value ? [{ name, value }] : []));
}

const relationWords = { thrown: '', cause: 'Caused by: ', suppressed: 'Suppressed: ' } as const;

function rawStacks(report: Report): RawStack[] {
  return [
    ...report.exceptions.map(({ type, message, relation, frames }) => ({
      title: `${relationWords[relation]}${type}${message === null ? '' : `: ${message}`}`,
      frames: frames.map(formatFrame),
    })),
    ...report.threads
      .filter((thread) => thread.frames.length > 0)
      .map((thread) => ({ title: `Thread ${thread.name}`, frames: thread.frames.map(formatFrame) })),
  ];
}
