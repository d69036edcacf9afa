import { wordStatus } from '@rough-ember/core/cases/case-words';
import { describe, expect, it } from 'vitest';
import { askAction, wordEvent, wordNews, wordTimes } from './status-words';

const from = { reports: 10, people: 3 };

describe('the status of a case', () => {
  it.each([
    [{ state: 'open', closedIn: null, mute: null }, 'open'],
    [{ state: 'closed', closedIn: '4.3.1', mute: null }, 'closed in 4.3.1'],
    [{ state: 'reopened', closedIn: '4.3.1', mute: null }, 'reopened, was closed in 4.3.1'],
    [{ state: 'muted', closedIn: null, mute: { until: 'further notice', from } }, 'muted for good'],
    [{ state: 'muted', closedIn: null, mute: { until: 'date', date: '2026-11-30T00:00:00Z', from } }, 'muted until 30 Nov 2026'],
    [{ state: 'muted', closedIn: null, mute: { until: 'reports', more: 1, from } }, 'muted for 1 more report'],
    [{ state: 'muted', closedIn: null, mute: { until: 'people', more: 20, from } }, 'muted for 20 more people'],
    [{ state: 'muted', closedIn: null, mute: { until: 'version', version: '4.4.0', from } }, 'muted until 4.4.0'],
  ] as const)('%j is %s', (status, words) => expect(wordStatus(status)).toBe(words));
});

describe('what happened to a case', () => {
  it.each([
    [{ kind: 'close', actor: 'ines', detail: { version: '4.3.1' } }, 'closed it in 4.3.1'],
    [{ kind: 'assign', actor: 'ines', detail: { assignee: null } }, 'took it from whoever looked after it'],
    [{ kind: 'assign', actor: 'ines', detail: { assignee: 'tom' } }, 'asked tom to look after it'],
    [{ kind: 'assign', actor: 'ines', detail: { assignee: 'ines' } }, 'looks after it'],
    [{ kind: 'open', actor: 'ines', detail: {} }, 'opened it'],
    [{ kind: 'mute', actor: 'ines', detail: { mute: { until: 'version', version: '4.4.0', from } } }, 'muted it until 4.4.0'],
    [{ kind: 'unmuted', actor: '', detail: { version: '4.4.0' } }, 'A report of 4.4.0 ended its being muted'],
    [{ kind: 'undo', actor: 'ines', detail: {} }, 'took the change before back'],
    [{ kind: 'note', actor: 'ines', detail: {} }, 'noted'],
    [{ kind: 'merge', actor: 'ines', detail: { parts: [{ number: 7 }, { number: 9 }] } }, 'merged number 7, number 9 into it'],
    [{ kind: 'split', actor: 'ines', detail: { into: 12 } }, 'took reports out, which are number 12 now'],
    [{ kind: 'taken-out', actor: 'ines', detail: { of: 7 } }, 'took it out of number 7'],
    [{ kind: 'reopened', actor: '', detail: { version: '4.3.2' } }, 'A report of 4.3.2 opened it again'],
  ] as const)('%j', (event, words) => expect(wordEvent(event)).toBe(words));
});

describe('what is about to be done', () => {
  it.each([
    [{ action: 'close', version: '4.3.1' }, 1, 'Close 1 case as cured in 4.3.1?'],
    [{ action: 'open' }, 2, 'Open 2 cases again?'],
    [{ action: 'mute', mute: { until: 'reports', more: 5, from } }, 1_200, 'Mute 1,200 cases for 5 more reports?'],
    [{ action: 'assign', assignee: 'ines' }, 3, 'Let ines look after 3 cases?'],
    [{ action: 'assign', assignee: null }, 1, 'Take 1 case from whoever looks after it?'],
    [{ action: 'assign', assignee: null }, 2, 'Take 2 cases from whoever looks after them?'],
  ] as const)('%j to %d', (action, count, question) => expect(askAction(action as never, count)).toBe(question));
});

describe('why a case wants a look', () => {
  it.each([
    [{ news: 'new', change: null }, 'new'],
    [{ news: 'reopened', change: { value: 2, low: 1, high: 3 } }, 'reopened'],
    [{ news: 'worse', change: { value: 1.84, low: 1.2, high: 3 } }, '1.8× as often as before'],
    [{ news: 'worse', change: null }, 'worse'],
    [{ news: null, change: null }, ''],
  ] as const)('%j', (item, words) => expect(wordNews(item as never)).toBe(words));

  it.each([
    [2, '2×'],
    [1.25, '1.3×'],
    [12.4, '12×'],
  ])('a ratio of %d is %s', (ratio, words) => expect(wordTimes(ratio)).toBe(words));
});
