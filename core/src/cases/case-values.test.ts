import { describe, expect, it } from 'vitest';
import { fillTemplate } from '../templates/template.ts';
import type { CaseToTell } from './case-text.ts';
import { caseTemplate, caseValues } from './case-values.ts';

const file = {
  item: {
    ...{ ref: 'LG-7', kind: 'crash', state: 'open', closedIn: null, mute: null, what: 'Illegal\nState', where: 'Map.draw', message: null },
    ...{ reports: 3, people: 2, perThousand: null, firstVersion: '4.2.0', lastVersion: '4.3.0' },
    ...{ beganAt: '2026-05-01T10:00:00Z', lastAt: '2026-05-02T10:00:00Z' },
  },
  report: {
    ...{ id: 'abc', occurredAt: '2026-05-02T10:00:00Z', version: '4.3.0', build: '430', os: null, device: null, flags: {}, attributes: {} },
    ...{ trail: [], readable: { exceptions: [], threads: [], needs: [] } },
  },
  now: '2026-05-02T12:00:00Z',
} as unknown as CaseToTell;

describe('a case in a text of the team', () => {
  it('stands where the text asks for it, in a title of one line', () => {
    const values = caseValues(file, { appName: 'Larkfield Guide', address: 'https://ember.example/cases/LG-7' });
    const text = fillTemplate('{{title}} | {{app}} {{version}} | {{people}} of {{ reports }} | {{link}} | {{colour}}', 'text', values);
    expect(text).toBe('LG-7: Illegal State in Map.draw | Larkfield Guide 4.3.0 | 2 of 3 | https://ember.example/cases/LG-7 | {{colour}}');
    expect(fillTemplate('{{markdown}}', 'text', values)).toContain('### Stack');
  });

  it('asks for what there is', () => {
    expect(caseTemplate.safeParse('{{title}} for {{people}}').success).toBe(true);
    expect(caseTemplate.safeParse('{{secret}}').error?.issues[0]?.message).toContain('{{secret}} is not known; use {{title}}');
  });
});
