import { deviceSchema } from './context.ts';
import { type Report, reportSchema } from './report.ts';
import type { ReportKind } from './report-kinds.ts';

/** What is left to say of a report whose content has gone. */
export interface BareFacts {
  readonly id: string;
  readonly kind: ReportKind;
  readonly occurredAt: Date;
  readonly receivedAt: Date;
  readonly version: string;
  readonly build: string;
  readonly buildType: string;
  readonly osName: string | null;
  readonly osVersion: string | null;
  readonly deviceModel: string | null;
}

/**
 * A report as it is kept after its content has gone by the retention of its app, JSON: what it is counted by, and a remark that
 * says so. What was stored once is not checked again.
 */
export function bareReport(facts: BareFacts, now: Date): string {
  const { id, kind, version, build, buildType, osName, osVersion, deviceModel } = facts;
  const day = (at: Date) => at.toISOString().slice(0, 10);
  const report: Report = {
    ...reportSchema.parse({ id, kind, occurredAt: facts.occurredAt.toISOString(), version: '0', build: '0' }),
    version,
    build,
    buildType,
    os: osName === null ? null : { name: osName, version: osVersion ?? '', build: null },
    device: deviceModel === null ? null : { ...deviceSchema.parse({ model: '' }), model: deviceModel },
    remarks: [
      `What this report of ${day(facts.receivedAt)} held went on ${day(now)}, as the retention of the app says; it is still counted.`,
    ],
  };
  return JSON.stringify(report);
}
