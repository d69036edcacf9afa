import { printDay } from '@rough-ember/core/session-index/person-day';
import { outcomeWords, verdictSentences, wordCondition } from '@rough-ember/core/stability/check-words';
import type { RolloutCheck } from '@rough-ember/core/stability/rollout-check';
import { Command, Option } from 'commander';
import { askServer } from './record.ts';

interface Options {
  readonly server: string;
  readonly token: string;
  readonly app: string;
  readonly version: string;
  readonly json?: boolean;
}

/** What a pipeline goes by: it may go on, it must not, it is too early to say. */
const exitCodes: Readonly<Record<RolloutCheck['verdict'], number>> = { go: 0, stop: 1, wait: 3 };

export function checkRolloutCommand(): Command {
  return new Command('check-rollout')
    .description('Say whether a version may go to more people, by the conditions of its app. Exit code 0: yes, 1: no, 3: too early.')
    .addOption(new Option('--server <address>', 'address of the server').env('EMBER_SERVER').default('http://127.0.0.1:4310'))
    .addOption(new Option('--token <token>', 'API token that may read').env('EMBER_API_TOKEN').makeOptionMandatory())
    .requiredOption('--app <name>', 'name of the app in addresses, such as larkfield-guide')
    .requiredOption('--version <version>', 'version name, such as 4.3.1')
    .option('--json', 'print the answer as JSON')
    .action(async ({ server, token, app, version, json }: Options) => {
      const path = `/api/v1/apps/${encodeURIComponent(app)}/versions/${encodeURIComponent(version)}/check`;
      const check = await askServer<RolloutCheck & { span: { first: number; last: number } }>({ server, token }, path);
      if (json) console.log(JSON.stringify(check, null, 2));
      else {
        console.log(`${app} ${version}: ${verdictSentences[check.verdict]} (sessions since ${printDay(check.span.first)})`);
        for (const one of check.conditions) console.log(`  ${outcomeWords[one.outcome].padEnd(9)}  ${wordCondition(one)}`);
      }
      process.exitCode = exitCodes[check.verdict];
    });
}
