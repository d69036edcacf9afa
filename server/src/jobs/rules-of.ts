import { type RuleSet, ruleSet } from '@rough-ember/core/grouping/rules/apply-rules';
import { noRules } from '@rough-ember/core/grouping/rules/grouping-rules';
import { parseRules } from '@rough-ember/core/grouping/rules/parse-rules';

/** Rules were checked when they were given; what cannot be read any more has no say. */
export function rulesOf(text: string): RuleSet {
  const rules = parseRules(text);
  return ruleSet(rules.ok ? rules.value : noRules);
}
