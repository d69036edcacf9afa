#!/usr/bin/env node
import { Command, CommanderError } from 'commander';
import { CommandProblem } from './command-problem.ts';
import { commands } from './commands.ts';
import { printVersions } from './versions.ts';

const program = new Command('ember')
  .option('-V, --version', 'print the version, and that of the server that EMBER_SERVER names')
  // Behind a command it is the version of an app.
  .enablePositionalOptions()
  .description(
    'Reads and symbolicates crash files, looks into symbol files, uploads them to a Rough Ember server, records rollouts there and checks them.',
  )
  .showHelpAfterError('Run "ember --help" for what there is.');
for (const command of commands()) program.addCommand(command);
for (const command of [program, ...program.commands])
  command.exitOverride().configureOutput({ outputError: (text, write) => write(`${text.trim().split('\n')[0]}\n`) });

/** Exit codes: 0 done, 1 could not, 2 wrong usage; of a check 1 is a no, 3 that it is too early to say, 4 that it could not be asked. */
try {
  // Commands have an option of this name, too: it is ours only where no command is given.
  if (['-V', '--version'].includes(process.argv[2] ?? '')) await printVersions(process.env.EMBER_SERVER);
  else await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2;
  else {
    const message = error instanceof CommandProblem || error instanceof Error ? error.message : String(error);
    console.error(`ember: ${message.replaceAll('\n', ' ')}`);
    process.exitCode = error instanceof CommandProblem ? error.exitCode : 1;
  }
}
