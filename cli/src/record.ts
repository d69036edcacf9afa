import { flagChangeSchema, type RolloutAction, rolloutSchema } from '@rough-ember/core/rollouts/rollouts';
import { Command, InvalidArgumentError, Option } from 'commander';
import { ask, onServer, reach, type ServerOptions } from './ask-server.ts';
import { CommandProblem } from './command-problem.ts';

interface Options extends ServerOptions {
  readonly version?: string;
  readonly flag?: string;
  readonly variant?: string;
  readonly percent?: number;
  readonly halt?: boolean;
  readonly resume?: boolean;
  readonly at?: string;
  readonly commit?: string;
  readonly note?: string;
}

const percentOf = (text: string): number => {
  const percent = Number(text.replace(/\s*%$/, ''));
  if (!(percent >= 0 && percent <= 100)) throw new InvalidArgumentError('It is a number from 0 to 100.');
  return percent;
};

/** The options of commands that change something on a server. */
const changing = (command: Command): Command =>
  onServer(command, 'change')
    .option('--percent <percent>', 'share of people who may have it from now on', percentOf)
    .option('--at <time>', 'when it was done, as 2026-11-28T08:00:00Z; now, if left out')
    .option('--note <text>', 'what to remember of it');

export function recordRolloutCommand(): Command {
  return changing(new Command('record-rollout'))
    .description('Record that a version was given to a share of people, halted or resumed.')
    .requiredOption('--version <version>', 'version name, such as 4.3.1')
    .addOption(new Option('--halt', 'it goes to no more people').conflicts('resume'))
    .option('--resume', 'it goes on after a halt')
    .option('--commit <id>', 'what the build was made of')
    .action(async ({ version, percent, halt, resume, at, commit, note, ...to }: Options) => {
      const action: RolloutAction = halt ? 'halt' : resume ? 'resume' : 'step';
      await record(to, 'rollouts', rolloutSchema, { version, action, percent, at, commit, note });
      console.log(`${version}: recorded`);
    });
}

export function recordFlagCommand(): Command {
  return changing(new Command('record-flag'))
    .description('Record that a feature flag was changed.')
    .requiredOption('--flag <name>', 'name of the flag')
    .option('--variant <variant>', 'the variant that people get', 'on')
    .action(async ({ flag, variant, percent, at, note, ...to }: Options) => {
      await record(to, 'flag-changes', flagChangeSchema, { flag, variant, percent, at, note });
      console.log(`${flag}: recorded`);
    });
}

async function record(
  to: ServerOptions,
  what: string,
  schema: typeof rolloutSchema | typeof flagChangeSchema,
  values: Readonly<Record<string, unknown>>,
): Promise<void> {
  const parsed = schema.safeParse(values);
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new CommandProblem(`--${issue?.path.join('.')}: ${issue?.message}`);
  }
  const { app, token } = reach(to, 'change');
  const headers = { 'content-type': 'application/json' };
  await ask(`${app}/${what}`, token, { method: 'POST', headers, body: JSON.stringify(parsed.data) });
}
