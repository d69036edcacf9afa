import { describe, expect, it } from 'vitest';
import { type CaseToTell, caseMarkdown, casePlainText, rawStackText } from './case-text.ts';

const frame = {
  runtime: 'jvm',
  function: 'com.larkfield.Map.draw',
  file: 'Map.kt',
  line: 7,
  column: null,
  inlined: false,
  ours: true,
  status: 'resolved',
  raw: 'a.b',
  rawIndex: 0,
};
const file = {
  item: {
    ref: 'LG-7',
    kind: 'crash',
    state: 'open',
    closedIn: null,
    mute: null,
    what: 'IllegalStateException',
    where: 'Map.draw',
    message: 'no ```tile```',
    reports: 3,
    people: 2,
    perThousand: null,
    firstVersion: '4.2.0',
    lastVersion: '4.3.0',
    beganAt: '2026-05-01T10:00:00Z',
    lastAt: '2026-05-02T10:00:00Z',
  },
  report: {
    id: 'abc',
    occurredAt: '2026-05-02T10:00:00Z',
    version: '4.3.0',
    build: '430',
    os: { name: 'Android', version: '14', build: null },
    device: { manufacturer: 'Tarn', model: 'X2' },
    flags: { 'night-map': 'on' },
    attributes: { layers: ['a', 'b'] },
    trail: [{ kind: 'screen', at: '2026-05-02T09:59:58Z', name: 'map' }],
    readable: {
      exceptions: [
        { type: 'IllegalStateException', message: 'no ```tile```', relation: 'thrown', parent: null, frames: [frame], framesInCommon: 0 },
      ],
      threads: [],
      needs: [],
    },
  },
  now: '2026-05-02T12:00:00Z',
} as unknown as CaseToTell;
const where = { appName: 'Larkfield Guide', address: 'https://ember.example/cases/LG-7' };

describe('a case for others', () => {
  it('is a Markdown text whose stack cannot break out of its block', () => {
    const text = caseMarkdown(file, where);
    expect(text).toContain('## [LG-7: IllegalStateException in Map.draw](https://ember.example/cases/LG-7)');
    expect(text).toContain('- **Flag night-map:** on');
    expect(text).toContain('at com.larkfield.Map.draw(Map.kt:7)');
    expect(text).toContain('−2.0 s  screen  map');
    expect(text.split('\n').filter((line) => line === '````')).toHaveLength(4 - 2);
  });

  it('is a plain text without marks', () => {
    const text = casePlainText(file, where);
    expect(text).toContain('Device: Tarn X2');
    expect(text).not.toContain('**');
  });

  it('keeps the stack as it was reported', () => {
    expect(rawStackText({ raw: [{ title: 'IllegalStateException: x', frames: ['a.b(SourceFile:1)'] }] })).toBe(
      'IllegalStateException: x\n    at a.b(SourceFile:1)',
    );
  });
});
