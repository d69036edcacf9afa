import { describe, expect, it } from 'vitest';
import { deskSettingsSchema, frameAddress } from './desk-settings.ts';

describe('the settings of a desk', () => {
  it('begin with breakdowns that every app has', () => {
    expect(deskSettingsSchema.parse({})).toMatchObject({ editor: null, repository: null, breakdowns: [{ field: 'version' }, {}, {}] });
  });

  it.each(['javascript:alert({file})', 'data:text/html,{file}', 'https://git.example/', '/src/{file}'])(
    'take no address like %s',
    (address) => {
      expect(deskSettingsSchema.safeParse({ repository: address }).success).toBe(false);
    },
  );

  it('fill an address with file, line and version, none of which can leave its place', () => {
    const template = 'https://git.example/{version}/{file}#L{line}';
    const place = { file: 'src/a b/Map?.kt', line: 12, version: '4.3.0 rc/1' };
    expect(deskSettingsSchema.safeParse({ repository: template }).success).toBe(true);
    expect(frameAddress(template, place)).toBe('https://git.example/4.3.0%20rc%2F1/src/a%20b/Map%3F.kt#L12');
    expect(frameAddress('edit://{file}:{line}', { ...place, line: null })).toMatch(/:1$/);
  });
});
