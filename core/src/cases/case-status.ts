import { z } from 'zod';
import { buildName } from '../report/limits.ts';
import { compareVersions } from '../version/version-order.ts';

export const caseStates = ['open', 'closed', 'muted', 'reopened'] as const;
export type CaseState = (typeof caseStates)[number];

/** How long a case is muted: for good, until a day, until it was reported so often or by so many more, or until a version. */
export const muteSchema = z.discriminatedUnion('until', [
  z.object({ until: z.literal('further notice') }),
  z.object({ until: z.literal('date'), date: z.iso.datetime() }),
  z.object({ until: z.literal('reports'), more: z.int().min(1).max(1_000_000) }),
  z.object({ until: z.literal('people'), more: z.int().min(1).max(1_000_000) }),
  z.object({ until: z.literal('version'), version: buildName }),
]);
export type Mute = z.infer<typeof muteSchema>;

/** What a person, or a report, has made of a case. */
export interface CaseStatus {
  readonly state: CaseState;
  /** The version it was closed in; a report of it or of a newer one opens the case again. */
  readonly closedIn: string | null;
  readonly mute: (Mute & { /** How much there was when it was muted. */ readonly from: CaseSize }) | null;
  /** Mail address of who looks after it. */
  readonly assignee: string | null;
}

/** How many reports a case has in all, and of how many people. */
export interface CaseSize {
  readonly reports: number;
  readonly people: number;
}

export const newStatus: CaseStatus = { state: 'open', closedIn: null, mute: null, assignee: null };

/** What a person can do to a case. */
export const caseActionSchema = z.discriminatedUnion('action', [
  z.object({ action: z.literal('close'), version: buildName.describe('The version that holds the cure.') }),
  z.object({ action: z.literal('open') }),
  z.object({ action: z.literal('mute'), mute: muteSchema }),
  z.object({ action: z.literal('assign'), assignee: z.email().max(254).nullable() }),
]);
export type CaseAction = z.infer<typeof caseActionSchema>;

/** The status after what a person did; the same object when it changes nothing. */
export function act(status: CaseStatus, action: CaseAction, size: CaseSize): CaseStatus {
  switch (action.action) {
    case 'close':
      if (status.state === 'closed' && status.closedIn === action.version) return status;
      return { ...status, state: 'closed', closedIn: action.version, mute: null };
    case 'open':
      if (status.state === 'open') return status;
      return { ...status, state: 'open', closedIn: null, mute: null };
    case 'mute':
      return { ...status, state: 'muted', closedIn: null, mute: { ...action.mute, from: size } };
    case 'assign':
      return status.assignee === action.assignee ? status : { ...status, assignee: action.assignee };
  }
}

/** A report that has just come, and what the case is with it. */
export interface ArrivedReport {
  readonly version: string;
  readonly receivedAt: Date;
  readonly size: CaseSize;
}

/**
 * The status after a report. A case that was closed in a version is opened again by a report of that version or a newer
 * one, by the order of versions and not of time; reports of older versions say nothing about the cure. A mute ends when
 * what it waits for has come.
 */
export function afterReport(status: CaseStatus, report: ArrivedReport): CaseStatus {
  if (status.state === 'closed' && status.closedIn !== null && compareVersions(report.version, status.closedIn) >= 0)
    return { ...status, state: 'reopened', mute: null };
  if (status.state === 'muted' && status.mute && hasEnded(status.mute, report)) return { ...status, state: 'open', mute: null };
  return status;
}

function hasEnded(mute: NonNullable<CaseStatus['mute']>, { version, receivedAt, size }: ArrivedReport): boolean {
  switch (mute.until) {
    case 'further notice':
      return false;
    case 'date':
      return receivedAt.getTime() >= Date.parse(mute.date);
    case 'reports':
      return size.reports >= mute.from.reports + mute.more;
    case 'people':
      return size.people >= mute.from.people + mute.more;
    case 'version':
      return compareVersions(version, mute.version) >= 0;
  }
}
