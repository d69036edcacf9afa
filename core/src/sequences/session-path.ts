import { type ReportKind, reportKinds } from '../report/report-kinds.ts';
import { hasFailed, requestName } from '../report/session-activity.ts';
import type { TrailEvent } from '../report/trail.ts';

/** What a step of a session may be: an event of its trail, or a report. */
export const stepKinds = ['screen', 'tap', 'request', 'log', 'lifecycle', 'flag', 'event', ...reportKinds] as const;
export type StepKind = (typeof stepKinds)[number];

/** Something that happened in a session, as sequences look at it. */
export interface PathStep {
  readonly kind: StepKind;
  /** What a pattern is held against: a screen, a control, `GET host/path`, a log message, `flag=variant`; empty for a report. */
  readonly name: string;
  /** Milliseconds since 1970. */
  readonly atMs: number;
  /** Of a request that was answered. */
  readonly status?: number;
  /** Of a request: it had no answer, or a status that says so. */
  readonly failed?: boolean;
}

/** How a session ended, as far as a sequence asks: by itself, or badly. */
export const pathEnds = ['crashed', 'hung', 'killed', 'ended'] as const;
export type PathEnd = (typeof pathEnds)[number];

/** What one session did, oldest first. */
export interface SessionPath {
  /** The same for all sessions of a person. */
  readonly person: string;
  readonly end: PathEnd;
  readonly steps: readonly PathStep[];
}

/** A report of a session. */
export interface PathReport {
  readonly kind: ReportKind;
  readonly atMs: number;
}

/** Clocks of the parts of an app differ by so much. */
const slackMs = 1_000;

/**
 * The steps of a session, oldest first, of what was told of it: events that came twice are one, and those from before its start,
 * which a report's trail may reach back to, are left out.
 */
export function stepsOf(startedAtMs: number, events: readonly TrailEvent[], reports: readonly PathReport[]): PathStep[] {
  const known = new Map<string, PathStep>();
  for (const event of events) {
    const step = stepOf(event);
    if (step.atMs >= startedAtMs - slackMs) known.set(`${step.atMs} ${step.kind} ${step.name}`, step);
  }
  const told = reports.map(({ kind, atMs }): PathStep => ({ kind, name: '', atMs }));
  // A report comes after what its trail tells of the same moment.
  return [...known.values(), ...told].sort((a, b) => a.atMs - b.atMs);
}

function stepOf(event: TrailEvent): PathStep {
  const atMs = Date.parse(event.at);
  switch (event.kind) {
    case 'screen':
      return { kind: 'screen', name: event.name, atMs };
    case 'tap':
      return { kind: 'tap', name: event.target, atMs };
    case 'request':
      return {
        kind: 'request',
        name: requestName(event),
        atMs,
        failed: hasFailed(event.status),
        ...(event.status !== null && { status: event.status }),
      };
    case 'log':
      return { kind: 'log', name: event.message, atMs };
    case 'lifecycle':
      return { kind: 'lifecycle', name: event.state, atMs };
    case 'flag':
      return { kind: 'flag', name: `${event.name}=${event.variant}`, atMs };
    case 'custom':
      return { kind: 'event', name: event.name, atMs };
  }
}

/** The screens of a path in order; one that is told again while it is shown is one. */
export function screensOf(steps: readonly PathStep[]): string[] {
  const screens: string[] = [];
  for (const { kind, name } of steps) if (kind === 'screen' && name !== screens.at(-1)) screens.push(name);
  return screens;
}
