import type { IntakeOutcome } from '@rough-ember/store/intake-outcomes';
import { Counter, collectDefaultMetrics, Histogram, Registry } from 'prom-client';

/** In seconds: from what is quick to what somebody looks into. */
const buckets = [0.005, 0.02, 0.05, 0.15, 0.5, 1, 2, 5, 15, 60, 300];

/** Whatever takes longer is told in the log, with what it did. */
export const longRequestMs = 2_000;
export const longJobMs = 15_000;

/** What this process counts of its own work. Its names are part of what is promised: docs/operating.md lists them. */
export class Metrics {
  readonly registry = new Registry();

  private readonly requests = new Histogram({
    name: 'ember_http_request_seconds',
    help: 'Requests that were answered, by route, method and status',
    labelNames: ['route', 'method', 'status'] as const,
    buckets,
    registers: [this.registry],
  });
  private readonly items = new Counter({
    name: 'ember_intake_items',
    help: 'Items that were sent, by intake key and what became of them',
    labelNames: ['app', 'key', 'outcome'] as const,
    registers: [this.registry],
  });
  private readonly refusals = new Counter({
    name: 'ember_intake_refused_requests',
    help: 'Requests of intake that were refused whole, by status',
    labelNames: ['status'] as const,
    registers: [this.registry],
  });
  private readonly jobs = new Histogram({
    name: 'ember_job_seconds',
    help: 'Jobs that were worked on, by kind and how they ended',
    labelNames: ['kind', 'end'] as const,
    buckets,
    registers: [this.registry],
  });
  private readonly conflicts = new Counter({
    name: 'ember_database_conflicts',
    help: 'Transactions that lost against another one and were tried again, of all threads',
    labelNames: ['errno'] as const,
    registers: [this.registry],
  });

  constructor() {
    this.registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE as never);
    collectDefaultMetrics({ register: this.registry });
  }

  noteRequest(route: string, method: string, status: number, ms: number): void {
    this.requests.observe({ route, method, status: String(status) }, ms / 1_000);
  }

  noteItem(by: { readonly appId: number | null; readonly keyName: string | null }, outcome: IntakeOutcome, count: number): void {
    this.items.inc({ app: String(by.appId ?? ''), key: by.keyName ?? '', outcome }, count);
  }

  noteRefusal(status: number): void {
    this.refusals.inc({ status: String(status) });
  }

  noteJob(kind: string, end: 'done' | 'failed', ms: number): void {
    this.jobs.observe({ kind, end }, ms / 1_000);
  }

  noteConflict(errno: number): void {
    this.conflicts.inc({ errno: String(errno) });
  }
}
