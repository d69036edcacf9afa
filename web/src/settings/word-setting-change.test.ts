import { expect, it } from 'vitest';
import { wordSettingChange } from './word-setting-change';

it('a change of a setting is told by what differs', () => {
  expect(wordSettingChange({ setting: 'name', before: 'Guide', after: 'Larkfield Guide' })).toEqual(['Guide → Larkfield Guide']);
  expect(wordSettingChange({ setting: 'zone', before: null, after: 'Europe/Oslo' })).toEqual(['nothing → Europe/Oslo']);
  expect(wordSettingChange({ setting: 'our-packages', before: ['com.larkfield'], after: [] })).toEqual(['com.larkfield → none']);
  expect(
    wordSettingChange({
      setting: 'stability',
      before: { targetPercent: 99.5, conditions: [1] },
      after: { targetPercent: 99.9, conditions: [1] },
    }),
  ).toEqual(['targetPercent: 99.5 → 99.9']);
  expect(wordSettingChange({ setting: 'desk', before: null, after: { editor: 'vs' } })).toEqual(['nothing was set before']);
  expect(wordSettingChange({ setting: 'name', before: 'a', after: 'x'.repeat(200) })[0]?.length).toBeLessThan(90);
});
