import { Scrubber, type ScrubRules } from '@rough-ember/core/report/scrub';

export interface ScrubPreview {
  readonly scrubbed: string;
  readonly removals: number;
}

/** What rules would leave of a text. An app's own patterns may take their time, so a worker thread runs this. */
export function previewScrub(rules: ScrubRules, sample: string): ScrubPreview {
  const scrubber = new Scrubber(rules);
  const scrubbed = scrubber.text(sample);
  return { scrubbed, removals: scrubber.removals };
}
