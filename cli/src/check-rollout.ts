import { printDay } from '@rough-ember/core/session-index/person-day';
import { outcomeWords, verdictSentences, wordCondition } from '@rough-ember/core/stability/check-words';
import { wordBaseline, wordDisagreement } from '@rough-ember/core/stability/comparison-words';
import type { RolloutCheck } from '@rough-ember/core/stability/rollout-check';
import type { VersionComparison } from '@rough-ember/core/stability/version-comparison';
import { ask, reach, type ServerOptions } from './ask-server.ts';
import { CommandProblem } from './command-problem.ts';

interface Options extends ServerOptions {
  readonly version: string;
  readonly against?: string;
  readonly align?: string;
  readonly json?: boolean;
}

/** What a pipeline goes by: it may go on, it must not, it is too early to say. */
const exitCodes: Readonly<Record<RolloutCheck['verdict'], number>> = { go: 0, stop: 1, wait: 3 };
/** No answer is no "must not": a server that is away says nothing of the version. */
const couldNotAsk = 4;

/** `ember check-rollout`; the exit code is the answer. */
export async function checkRollout({ version, against, align, json, ...to }: Options): Promise<void> {
  const compared = new URLSearchParams({ ...(against !== undefined && { against }), ...(align !== undefined && { align }) });
  const check = await askCheck(to, version, compared);
  if (json) console.log(JSON.stringify(check, null, 2));
  else {
    console.log(`${to.app} ${version}: ${verdictSentences[check.verdict]} (sessions since ${printDay(check.span.first)})`);
    for (const one of check.conditions) console.log(`  ${outcomeWords[one.outcome].padEnd(9)}  ${wordCondition(one)}`);
    if (check.comparison) {
      console.log(`  compared with ${wordBaseline(check.comparison)}`);
      const disagreement = wordDisagreement(check.comparison.sessions);
      if (disagreement !== null) console.log(`  ${disagreement}`);
    }
  }
  process.exitCode = exitCodes[check.verdict];
}

type Check = RolloutCheck & { readonly span: { readonly first: number }; readonly comparison?: VersionComparison | null };

async function askCheck(to: ServerOptions, version: string, compared: URLSearchParams): Promise<Check> {
  const { app, token } = reach(to, 'read');
  try {
    const check = await ask<Check>(
      `${app}/versions/${encodeURIComponent(version)}/check${compared.size === 0 ? '' : `?${compared}`}`,
      token,
    );
    if (!(check.verdict in exitCodes))
      throw new CommandProblem(`${to.server} is no Rough Ember server, or of another version: it gave no verdict`);
    return check;
  } catch (error) {
    throw error instanceof CommandProblem ? Object.assign(error, { exitCode: couldNotAsk }) : error;
  }
}
