import { expect, it } from 'vitest';
import { reportSchema } from './report.ts';
import { defaultScrubRules } from './scrub.ts';
import { scrubDifferences } from './scrub-differences.ts';

const report = reportSchema.parse({
  id: '0b0e8a58-6a2c-4f0e-9a43-0a6f6f0f4a11',
  kind: 'crash',
  occurredAt: '2026-11-30T09:00:00Z',
  version: '4.3.0',
  build: '430',
  personId: 'maud',
  exceptions: [{ type: 'java.lang.Error', message: `${'a'.repeat(100)} call +47 22 12 34 56 now` }],
  trail: [
    { kind: 'screen', at: '2026-11-30T08:59:00Z', name: 'map' },
    { kind: 'custom', at: '2026-11-30T08:59:30Z', name: 'ring', attributes: { 'RN-104233': 'seen', plain: ['RN-104234', 'x'] } },
  ],
});

it('nothing is told of a report that rules leave as it is', () => {
  expect(scrubDifferences(defaultScrubRules, report, 10)).toEqual([]);
});

it('each text that would change is told with its place, around the first difference, names of attributes too', () => {
  const rules = { ...defaultScrubRules, phones: true, patterns: [{ name: 'ring', pattern: 'RN-\\d{6}' }], attributes: ['personId'] };
  const differences = scrubDifferences(rules, report, 10);
  expect(differences).toContainEqual({ where: 'personId', before: 'maud', after: '[removed: personId]' });
  expect(differences).toContainEqual({
    where: 'exceptions[0].message',
    before: `…${'a'.repeat(34)} call +47 22 12 34 56 now`,
    after: `…${'a'.repeat(34)} call [removed: phone number] now`,
  });
  expect(differences).toContainEqual({ where: 'name of trail[1].attributes.RN-104233', before: 'RN-104233', after: '[removed: ring]' });
  expect(differences).toContainEqual({ where: 'trail[1].attributes.plain[0]', before: 'RN-104234', after: '[removed: ring]' });
  expect(differences).toHaveLength(4);
  expect(scrubDifferences(rules, report, 2)).toHaveLength(2);
});
