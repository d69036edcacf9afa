import type { GroupingExplanation } from '@rough-ember/core/grouping/group-report';
import { formatFrame } from '@rough-ember/core/report/format-frame';
import type { Report, ReportedThread } from '@rough-ember/core/report/report';
import { type Scope, wholeScope } from '@rough-ember/core/scope/scope';
import type { ReadableReport, SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { listAccounts } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import { type AttachmentSummary, listAttachments } from '@rough-ember/store/attachments';
import { type CaseEvent, listCaseEvents } from '@rough-ember/store/case-standing';
import { caseReportAt, findCaseId, listCases, type SpreadColumn, spreadOfCase } from '@rough-ember/store/cases';
import type { Database } from '@rough-ember/store/database';
import { countReportsInWork } from '@rough-ember/store/jobs';
import type { ReportDetail } from '@rough-ember/store/reports';
import { type CaseItem, latestVersions, loadVersions, type StripVersion, toCaseItem } from './case-list.ts';

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
  readonly sections: Report['sections'];
  readonly attachments: readonly AttachmentSummary[];
  readonly readable: ReadableReport;
  readonly raw: readonly RawStack[];
  readonly missing: readonly MissingSymbols[];
  readonly explanation: GroupingExplanation | null;
}

/** Something that happened to a case. */
export type CaseEventView = Omit<CaseEvent, 'at'> & { readonly at: string };

/** Everything the case file shows. */
export interface CaseFile {
  readonly item: CaseItem;
  readonly stripVersions: readonly StripVersion[];
  /** The number that was asked for when its reports have moved here. */
  readonly movedFrom: string | null;
  /** No report lies in the scope that was asked for; this shows all of them. */
  readonly outsideScope: boolean;
  readonly report: ReportView;
  /** 0 is the newest report of the scope. */
  readonly position: number;
  /** Reports of this case that are being named again, since a symbol file came or went. */
  readonly reportsInWork: number;
  /** What happened to the case, the newest first. */
  readonly history: readonly CaseEventView[];
  /** Who may be asked to look after it. */
  readonly colleagues: readonly string[];
  readonly spread: Readonly<Record<SpreadColumn, readonly { readonly value: string; readonly reports: number }[]>>;
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
export async function loadCaseFile(database: Database, { app, ref, scope, position, now }: CaseFileQuery): Promise<CaseFile | null> {
  const number = parseCaseRef(app, ref);
  if (number === null) return null;
  // The last report of a case may move away between two questions; then its number leads elsewhere, so it is asked again.
  for (let attempt = 0; attempt < 2; attempt++) {
    const caseId = await findCaseId(database, app.id, number);
    if (caseId === null) return null;
    const query = { app, ref, position, now };
    const inScope = await loadInScope(database, { ...query, scope }, caseId);
    if (inScope) return inScope;
    const outside = await loadInScope(database, { ...query, scope: wholeScope }, caseId);
    if (outside) return { ...outside, outsideScope: true };
  }
  return null;
}

async function loadInScope(database: Database, query: CaseFileQuery, caseId: number): Promise<CaseFile | null> {
  const { app, ref, scope, now } = query;
  const limited = { appId: app.id, caseId, scope, now };
  const [row] = await listCases(database, { ...limited, limit: 1 });
  if (!row) return null;
  const position = Math.min(query.position, row.reports - 1);
  const [detail, versions, spread, reportsInWork, history, accounts] = await Promise.all([
    caseReportAt(database, { ...limited, position }),
    loadVersions(database, app),
    spreadOfCase(database, limited),
    countReportsInWork(database, caseId),
    listCaseEvents(database, caseId),
    listAccounts(database),
  ]);
  if (!detail) return null;
  const stripVersions = latestVersions(versions);
  const item = toCaseItem(app, row, stripVersions);
  return {
    item,
    stripVersions,
    movedFrom: item.ref === ref.toUpperCase() ? null : ref,
    outsideScope: false,
    report: toReportView(detail, await listAttachments(database, app.id, detail.reportId)),
    position,
    reportsInWork,
    history: history.map(({ at, ...event }) => ({ ...event, at: at.toISOString() })),
    colleagues: accounts.filter((one) => one.role !== 'viewer').map((one) => one.email),
    spread,
    now: now.toISOString(),
  };
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
    attachments,
    readable: readable ?? { exceptions: [], threads: [], needs: [] },
    raw: rawStacks(report),
    missing: (readable?.needs ?? [])
      .filter((need) => !need.found)
      .map(({ kind, symbolId, name }) => ({ version: summary.version, build: summary.build, kind, symbolId, name })),
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
