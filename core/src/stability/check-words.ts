import { wordComparison } from './comparison-words.ts';
import type { CheckedCondition, Outcome, RolloutCheck } from './rollout-check.ts';

export const outcomeWords: Readonly<Record<Outcome, string>> = { met: 'met', 'not-met': 'not met', 'too-early': 'too early' };

export const verdictSentences: Readonly<Record<RolloutCheck['verdict'], string>> = {
  go: 'It may go to more people.',
  stop: 'It must not go to more people.',
  wait: 'It is too early to say.',
};

/** Where nothing was counted there is no number, and behind the API null stands for it. */
const percent = (share: number): string => (Number.isFinite(share) ? `${(100 * share).toFixed(2)} %` : 'nothing');
const count = (number: number): string => new Intl.NumberFormat('en-GB').format(number);
const rate = (number: number): string => (Number.isFinite(number) ? number.toFixed(2) : 'nothing');
const more = (number: number | null): string => (number === null ? '' : `; it takes about ${count(number)} more sessions to tell`);

/** What a condition asks, and what it was judged by, in a sentence: the same on the page and on the command line. */
export function wordCondition(checked: CheckedCondition): string {
  switch (checked.condition) {
    case 'sessions':
      return `at least ${count(checked.wanted)} sessions: there are ${count(checked.sessions)}`;
    case 'crash-free': {
      const { crashFree, wantedPercent } = checked;
      return `lower end of crash-free sessions at least ${wantedPercent} %: it is ${percent(crashFree.low)} (${percent(crashFree.value)} seen)${more(checked.more)}`;
    }
    case 'start-crashes': {
      const { rate: seen, mostPerThousand } = checked;
      return `at most ${mostPerThousand} of 1,000 sessions crash in their first five seconds: ${rate(seen.value)} do (${rate(seen.low)} to ${rate(seen.high)})${more(checked.more)}`;
    }
    case 'new-cases':
      return checked.cases.length === 0
        ? `no case that began in it hits more than ${count(checked.mostPeople)} people`
        : `no case that began in it hits more than ${count(checked.mostPeople)} people: ${checked.cases
            .map(({ ref, title, people }) => `${ref} ${title} hits ${count(people)}`)
            .join('; ')}`;
    case 'symbols':
      return checked.missing.length === 0
        ? 'symbol files complete'
        : `too early to say which cases there are: ${checked.missing.map(({ file, reports }) => `${file} is missing for ${count(reports)} reports`).join('; ')}`;
    case 'not-worse': {
      const { comparison } = checked;
      if (comparison === null) return 'not worse than the version that it is compared with: there is none';
      return `not worse than the version that it is compared with: ${wordComparison(comparison.sessions, comparison)}`;
    }
  }
}
