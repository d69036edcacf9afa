import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { sessionFields } from '../session-index/person-day.ts';
import { fieldNames, fields, meaningOf, wordField } from './fields.ts';

describe('the table of fields', () => {
  it('is the one that the documentation lists', () => {
    const page = readFileSync(new URL('../../../docs/filter.md', import.meta.url), 'utf8');
    for (const name of fieldNames) expect(page).toContain(`\`${name}${meaningOf(name).isMap ? '.' : ''}`);
  });

  it('says of each where it comes from, or that it is made of stacks, trails and maps', () => {
    const made = fieldNames.filter((name) => !meaningOf(name).ofReport);
    expect(made).toEqual(['kind', 'flags', 'attributes', 'type', 'message', 'stack', 'trail']);
  });

  it('keeps the order that days of sessions on disk have', () => {
    expect(sessionFields.join(' ')).toBe('version build build.type os.name os.version device.model device.memory country carrier');
  });

  it('lets nothing stand out that says who somebody is', () => {
    for (const name of ['person', 'installation', 'message', 'trail'] as const) expect(fields[name]).not.toHaveProperty('standsOut');
  });

  it('names fields, flags and attributes in sentences', () => {
    expect([
      wordField('os.version', null),
      wordField('country', null),
      wordField('flags', 'night-map'),
      wordField('attributes', 'feeders'),
    ]).toEqual(['system version', 'country', 'flag night-map', 'feeders']);
  });
});
