import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { fieldNames, meaningOf } from '../../fields/fields.ts';
import { ruleVerbs } from '../../grouping/rules/grouping-rules.ts';
import { parseRules } from '../../grouping/rules/parse-rules.ts';
import { parseFilter } from './parse-filter.ts';

const page = (name: string) => readFileSync(new URL(`../../../../docs/${name}`, import.meta.url), 'utf8');
const blocks = (text: string, language: string) =>
  [...text.matchAll(new RegExp(`^\`\`\`${language}\\n([\\s\\S]*?)^\`\`\`$`, 'gm'))].map((match) => match[1] as string);

describe('the documented languages', () => {
  const filters = blocks(page('filter.md'), 'filter').flatMap((block) => block.trim().split('\n'));

  it.each(filters)('read as a filter: %s', (filter) => {
    expect(parseFilter(filter)).toMatchObject({ ok: true });
  });

  it('name every field', () => {
    for (const name of fieldNames) expect(page('filter.md')).toContain(meaningOf(name).isMap ? `\`${name}.<name>\`` : `\`${name}\``);
  });

  it('read as rules, every verb among them', () => {
    const [block] = blocks(page('grouping.md'), 'rules');
    const rules = parseRules(block as string);
    expect(rules.ok && new Set(rules.value.map((rule) => rule.verb))).toEqual(new Set(Object.keys(ruleVerbs)));
  });
});
