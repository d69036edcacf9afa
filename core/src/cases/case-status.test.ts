import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { act, afterReport, type CaseAction, type CaseStatus, newStatus } from './case-status.ts';

const size = { reports: 10, people: 4 };
const report = (version: string, more = {}) => ({ version, receivedAt: new Date('2026-11-23T12:00:00Z'), size, ...more });
const closed = (version: string): CaseStatus => act(newStatus, { action: 'close', version }, size);
const muted = (mute: Extract<CaseAction, { action: 'mute' }>['mute']) => act(newStatus, { action: 'mute', mute }, size);

describe('a case closed in a version', () => {
  it.each([
    ['4.2.0', 'closed'],
    ['4.9.9', 'closed'],
    ['4.10.0', 'reopened'],
    ['4.10.0-rc.1', 'closed'],
    ['4.10.1', 'reopened'],
    ['5.0.0', 'reopened'],
  ])('is %s after a report of that version: %s', (version, state) => {
    expect(afterReport(closed('4.10.0'), report(version)).state).toBe(state);
  });

  it('remembers in which version it was closed when it is opened again by a report, and forgets it when a person opens it', () => {
    const again = afterReport(closed('4.3.0'), report('4.3.1'));
    expect(again).toMatchObject({ state: 'reopened', closedIn: '4.3.0' });
    expect(act(again, { action: 'open' }, size)).toMatchObject({ state: 'open', closedIn: null });
    expect(act(again, { action: 'close', version: '4.3.2' }, size)).toMatchObject({ state: 'closed', closedIn: '4.3.2' });
  });

  it('is reopened once: later reports change nothing', () => {
    const again = afterReport(closed('4.3.0'), report('4.3.1'));
    expect(afterReport(again, report('4.3.2'))).toBe(again);
  });
});

describe('a muted case', () => {
  it.each([
    ['further notice', { until: 'further notice' }, report('9.0.0', { size: { reports: 9_999, people: 999 } }), 'muted'],
    ['a day that is to come', { until: 'date', date: '2026-11-24T00:00:00Z' }, report('4.3.0'), 'muted'],
    ['a day that has come', { until: 'date', date: '2026-11-23T00:00:00Z' }, report('4.3.0'), 'open'],
    ['more reports, short by one', { until: 'reports', more: 5 }, report('4.3.0', { size: { reports: 14, people: 4 } }), 'muted'],
    ['more reports', { until: 'reports', more: 5 }, report('4.3.0', { size: { reports: 15, people: 4 } }), 'open'],
    ['more people', { until: 'people', more: 2 }, report('4.3.0', { size: { reports: 11, people: 6 } }), 'open'],
    ['a version, by an older one', { until: 'version', version: '4.4.0' }, report('4.3.9'), 'muted'],
    ['a version', { until: 'version', version: '4.4.0' }, report('4.4.0'), 'open'],
  ] as const)('until %s', (_, mute, arrived, state) => {
    expect(afterReport(muted(mute), arrived).state).toBe(state);
  });
});

describe('who looks after it', () => {
  it('is kept through every state', () => {
    const assigned = act(closed('4.3.0'), { action: 'assign', assignee: 'ines@larkfield.example' }, size);
    expect(afterReport(assigned, report('4.3.0')).assignee).toBe('ines@larkfield.example');
    expect(act(assigned, { action: 'open' }, size).assignee).toBe('ines@larkfield.example');
  });

  it('changes nothing when it is the same', () => {
    expect(act(newStatus, { action: 'assign', assignee: null }, size)).toBe(newStatus);
    expect(act(newStatus, { action: 'open' }, size)).toBe(newStatus);
  });
});

it('whatever is done, a closed case has a version, a muted one a mute, and an open one neither', () => {
  const version = fc.constantFrom('4.2.0', '4.3.0', '4.10.0');
  const step = fc.oneof(
    version.map((one) => ({ report: report(one) })),
    fc
      .oneof(
        version.map((one): CaseAction => ({ action: 'close', version: one })),
        fc.constant<CaseAction>({ action: 'open' }),
        fc.constant<CaseAction>({ action: 'mute', mute: { until: 'reports', more: 1 } }),
        fc.constant<CaseAction>({ action: 'assign', assignee: 'tom@larkfield.example' }),
      )
      .map((action) => ({ action })),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 12 }), (steps) => {
      let status = newStatus;
      for (const one of steps) status = 'action' in one ? act(status, one.action, size) : afterReport(status, one.report);
      expect(status.mute !== null).toBe(status.state === 'muted');
      if (status.state === 'closed' || status.state === 'reopened') expect(status.closedIn).not.toBeNull();
      if (status.state === 'open' || status.state === 'muted') expect(status.closedIn).toBeNull();
    }),
  );
});
