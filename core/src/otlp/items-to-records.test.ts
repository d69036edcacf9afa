import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { mendItem } from '../report/mend/mend-item.ts';
import { reportSchema } from '../report/report.ts';
import { sessionItemSchema } from '../report/session.ts';
import { noSymbols } from '../symbolicate/symbol-source.ts';
import { symbolicate } from '../symbolicate/symbolicate.ts';
import { exportRequest, recordOfReport, recordOfSession } from './items-to-records.ts';
import { parseLogRecords } from './log-records.ts';
import { itemFromRecord } from './records-to-items.ts';

const receivedAt = '2026-11-20T10:00:00.000Z';
const text = fc.string({ minLength: 1, maxLength: 12 }).map((one) => `x${one.replace(/\P{L}/gu, '')}`);
const context = {
  version: text,
  build: text,
  buildType: fc.constantFrom('release', 'debug', 'nightly'),
  os: fc.option(fc.record({ name: text, version: text }), { nil: null }),
  device: fc.option(fc.record({ manufacturer: text, model: text }), { nil: null }),
  installationId: fc.option(fc.uuid(), { nil: null }),
  personId: fc.option(text, { nil: null }),
  country: fc.constantFrom('GB', 'NO', null),
  network: fc.constantFrom('wifi', 'cellular', 'wired', 'none', null),
  attributes: fc.dictionary(text, fc.oneof(text, fc.integer(), fc.boolean(), fc.array(text, { minLength: 1, maxLength: 3 })), {
    maxKeys: 3,
  }),
};
const told = ({ version, build, buildType, os, device, installationId, personId, country, network }: Record<string, unknown>) => ({
  ...{ version, build, buildType, os, installationId, personId, country, network },
  device: device && { manufacturer: (device as { manufacturer: string }).manufacturer, model: (device as { model: string }).model },
});

/** What our own intake makes of what was forwarded. */
function takenAgain(request: object) {
  const records = parseLogRecords(JSON.stringify(request), 100)?.records ?? [];
  return records.map((record) => {
    const from = itemFromRecord(record, { receivedAt, makeId: () => '00000000-0000-4000-8000-000000000000' });
    if (from.as !== 'item') throw new Error(`the record is ${from.as}`);
    const mended = mendItem(from.item, { receivedAt, text: '', makeId: () => '' });
    if (!mended.ok) throw mended.error;
    return mended.item;
  });
}

describe('what is forwarded', () => {
  test('is a report to any receiver that knows the conventions, as to our own', () => {
    const reports = fc.record({ ...context, kind: fc.constantFrom('crash', 'error'), id: fc.uuid(), sessionId: fc.uuid(), message: text });
    fc.assert(
      fc.property(reports, ({ message, ...about }) => {
        const stack = `java.lang.IllegalStateException: ${message}\n\tat com.larkfield.Map.open(Map.java:12)`;
        const frames = [{ runtime: 'jvm', class: 'com.larkfield.Map', method: 'open', file: 'Map.java', line: 12 }];
        const exceptions = [{ type: 'java.lang.IllegalStateException', message, frames }];
        const report = reportSchema.parse({ ...about, occurredAt: '2026-11-20T09:12:44.123Z', exceptions });
        const readable = symbolicate(report, noSymbols, { ours: ['com.larkfield'] });
        const record = recordOfReport('larkfield-guide', { report, readable, caseRef: 'LG-7', address: 'https://ember.example/c' });
        const [item] = takenAgain(exportRequest([record], '0.1.0'));
        expect(item).toMatchObject({
          ...told(about),
          ...{ type: 'report', id: about.id, kind: about.kind, occurredAt: '2026-11-20T09:12:44.123Z', sessionId: about.sessionId },
          attributes: { ...about.attributes, 'rough_ember.case': 'LG-7', 'url.full': 'https://ember.example/c' },
        });
        expect(item?.type === 'report' && item.exceptions[0]).toMatchObject({ type: 'java.lang.IllegalStateException', message });
        expect(JSON.stringify(record)).toContain(JSON.stringify(stack.split('\n')[1]?.trim()).slice(1, -1));
      }),
      { numRuns: 60 },
    );
  });

  test('tells where a session begins and ends, and nothing of what lies between', () => {
    const sessions = fc.record({ ...context, id: fc.uuid(), sequence: fc.nat(3), state: fc.constantFrom('open', 'ended', 'killed') });
    fc.assert(
      fc.property(sessions, (about) => {
        const at = { at: '2026-11-20T09:20:00.000Z', startedAt: '2026-11-20T09:12:00.000Z' };
        const item = sessionItemSchema.parse({ ...about, ...at, durationMs: 60_000 });
        const record = recordOfSession('larkfield-guide', item);
        if (about.state === 'open' && about.sequence > 0) {
          expect(record).toBeNull();
          return;
        }
        const [again] = takenAgain(exportRequest(record ? [record] : [], '0.1.0'));
        const isStart = about.state === 'open';
        expect(again).toMatchObject({
          ...told(about),
          ...{ type: 'session', id: about.id, state: isStart ? 'open' : 'ended', at: isStart ? at.startedAt : at.at },
          attributes: { ...about.attributes, 'rough_ember.session.state': about.state },
        });
      }),
      { numRuns: 60 },
    );
  });

  test('of one resource lies together', () => {
    const item = (build: string) =>
      sessionItemSchema.parse({ id: crypto.randomUUID(), sequence: 0, at: receivedAt, startedAt: receivedAt, version: '4.3.0', build });
    const records = ['430', '431', '430'].flatMap((build) => recordOfSession('larkfield-guide', item(build)) ?? []);
    const { resourceLogs } = exportRequest(records, '0.1.0') as { resourceLogs: { scopeLogs: { logRecords: object[] }[] }[] };
    expect(resourceLogs.map((one) => one.scopeLogs[0]?.logRecords.length)).toEqual([2, 1]);
  });
});
