import { Command, CommanderError } from 'commander';
import { CommandProblem } from './command-problem.ts';
import { demangleCommand } from './demangle.ts';
import { readCommand } from './read.ts';
import { symbolicateCommand } from './symbolicate.ts';
import { symbolsCommand } from './symbols.ts';
import { uploadCommand } from './upload.ts';

const program = new Command('ember')
  .description('Reads and symbolicates crash files, looks into symbol files, and uploads them to a Rough Ember server.')
  .showHelpAfterError('Run "ember --help" for what there is.')
  .addCommand(readCommand())
  .addCommand(symbolicateCommand())
  .addCommand(symbolsCommand())
  .addCommand(demangleCommand())
  .addCommand(uploadCommand());
for (const command of [program, ...program.commands])
  command.exitOverride().configureOutput({ outputError: (text, write) => write(`${text.trim().split('\n')[0]}\n`) });

/** Exit codes: 0 done, 1 could not, 2 wrong usage. */
try {
  await program.parseAsync();
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2;
  else {
    const message = error instanceof CommandProblem || error instanceof Error ? error.message : String(error);
    console.error(`ember: ${message.replaceAll('\n', ' ')}`);
    process.exitCode = 1;
  }
}
