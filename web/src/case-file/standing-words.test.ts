import { describe, expect, it } from 'vitest';
import { wordEvent, wordStanding } from './standing-words';

const from = { reports: 10, people: 3 };

describe('the standing of a case', () => {
  it.each([
    [{ state: 'open', closedIn: null, mute: null }, 'open'],
    [{ state: 'closed', closedIn: '4.3.1', mute: null }, 'closed in 4.3.1'],
    [{ state: 'reopened', closedIn: '4.3.1', mute: null }, 'reopened, was closed in 4.3.1'],
    [{ state: 'muted', closedIn: null, mute: { until: 'further notice', from } }, 'muted for good'],
    [{ state: 'muted', closedIn: null, mute: { until: 'date', date: '2026-11-30T00:00:00Z', from } }, 'muted until 30 Nov 2026'],
    [{ state: 'muted', closedIn: null, mute: { until: 'reports', more: 1, from } }, 'muted for 1 more report'],
    [{ state: 'muted', closedIn: null, mute: { until: 'people', more: 20, from } }, 'muted for 20 more people'],
    [{ state: 'muted', closedIn: null, mute: { until: 'version', version: '4.4.0', from } }, 'muted until 4.4.0'],
  ] as const)('%j is %s', (standing, words) => expect(wordStanding(standing)).toBe(words));
});

describe('what happened to a case', () => {
  it.each([
    [{ kind: 'close', actor: 'ines', detail: { version: '4.3.1' } }, 'closed it in 4.3.1'],
    [{ kind: 'assign', actor: 'ines', detail: { assignee: null } }, 'took it from whoever looked after it'],
    [{ kind: 'assign', actor: 'ines', detail: { assignee: 'tom' } }, 'asked tom to look after it'],
    [{ kind: 'assign', actor: 'ines', detail: { assignee: 'ines' } }, 'looks after it'],
    [{ kind: 'reopened', actor: '', detail: { version: '4.3.2' } }, 'A report of 4.3.2 opened it again'],
  ] as const)('%j', (event, words) => expect(wordEvent(event)).toBe(words));
});
