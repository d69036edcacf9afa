import { readFileSync } from 'node:fs';
import { Command, CommanderError } from 'commander';
import { checkRolloutCommand } from './check-rollout.ts';
import { CommandProblem } from './command-problem.ts';
import { demangleCommand } from './demangle.ts';
import { readCommand } from './read.ts';
import { recordFlagCommand, recordRolloutCommand } from './record.ts';
import { symbolicateCommand } from './symbolicate.ts';
import { symbolsCommand } from './symbols.ts';
import { uploadCommand } from './upload.ts';

const { version } = JSON.parse(readFileSync(new URL('../package.json', import.meta.url), 'utf8')) as { version: string };
const program = new Command('ember')
  .version(version)
  // Behind a command it is the version of an app.
  .enablePositionalOptions()
  .description(
    'Reads and symbolicates crash files, looks into symbol files, uploads them to a Rough Ember server, records rollouts there and checks them.',
  )
  .showHelpAfterError('Run "ember --help" for what there is.')
  .addCommand(readCommand())
  .addCommand(symbolicateCommand())
  .addCommand(symbolsCommand())
  .addCommand(demangleCommand())
  .addCommand(uploadCommand())
  .addCommand(recordRolloutCommand())
  .addCommand(recordFlagCommand())
  .addCommand(checkRolloutCommand());
for (const command of [program, ...program.commands])
  command.exitOverride().configureOutput({ outputError: (text, write) => write(`${text.trim().split('\n')[0]}\n`) });

/** Exit codes: 0 done, 1 could not, 2 wrong usage; of a check 1 is a no, 3 that it is too early to say, 4 that it could not be asked. */
try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2;
  else {
    const message = error instanceof CommandProblem || error instanceof Error ? error.message : String(error);
    console.error(`ember: ${message.replaceAll('\n', ' ')}`);
    process.exitCode = error instanceof CommandProblem ? error.exitCode : 1;
  }
}
