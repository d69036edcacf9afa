import { describe, expect, it } from 'vitest';
import { noteOf, wordReason, wordTold } from './told-words';

const self = 'ines@larkfield.example';
const base = { reason: 'takes-part', kind: 'note', actor: 'perdita@larkfield.example', detail: {} } as const;

describe('what somebody is told', () => {
  it.each([
    [{ ...base, reason: 'mentioned' as const }, 'perdita@larkfield.example mentioned you'],
    [{ ...base, reason: 'assigned' as const, kind: 'assign' }, 'perdita@larkfield.example asked you to look after it'],
    [{ ...base, kind: 'assign', detail: { assignee: null } }, 'perdita@larkfield.example took it from whoever looked after it'],
    [
      { ...base, kind: 'assign', detail: { assignee: 'odd@larkfield.example' } },
      'perdita@larkfield.example asked odd@larkfield.example to look after it',
    ],
    [{ ...base, kind: 'close', detail: { version: '4.3.1' } }, 'perdita@larkfield.example closed it in 4.3.1'],
    [{ ...base, kind: 'reopened', actor: '', detail: { version: '4.3.2' } }, 'A report of 4.3.2 opened it again'],
    [base, 'perdita@larkfield.example noted'],
    [{ ...base, reason: 'rule' as const, kind: 'case-returns', actor: '' }, 'Came back'],
  ])('%j', (item, words) => expect(wordTold(item, self)).toBe(words));

  it('is why, where that is not said yet', () => {
    expect(wordReason(base)).toBe('you take part in it');
    expect(wordReason({ reason: 'mentioned' })).toBeNull();
  });

  it('is the note with it, cut where it is long', () => {
    expect(noteOf({ kind: 'note', detail: { text: 'look' } })).toBe('look');
    expect(noteOf({ kind: 'note', detail: { text: 'x'.repeat(1_000) } })).toHaveLength(282);
    expect(noteOf({ kind: 'close', detail: { version: '1' } })).toBeNull();
  });
});
