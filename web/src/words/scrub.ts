import type { ScrubRules } from '@rough-ember/core/report/scrub';
import { wordCount } from './numbers';

/** What rules take out, in one sentence. */
export function wordScrub({ mail, cards, tokens, ibans, phones, patterns, attributes }: ScrubRules): string {
  const parts = [
    mail && 'mail addresses',
    cards && 'card numbers',
    tokens && 'tokens, cookies and passwords',
    ibans && 'bank accounts',
    phones && 'phone numbers',
    ...patterns.map((one) => one.name),
    attributes.length > 0 && wordCount(attributes.length, 'attribute', 'attributes'),
  ].filter((part) => part !== false);
  return parts.length === 0
    ? 'Nothing is scrubbed; texts are stored as they come.'
    : `Before anything is stored, ${parts.join(', ')} are taken out.`;
}
