import { Command, InvalidArgumentError, Option } from 'commander';
import { onServer } from './ask-server.ts';

/** Every command with its arguments and options. What a command does is loaded once it is given. */
export const commands = (): readonly Command[] => [
  new Command('read')
    .description('Say what a crash file is and what is in it; needs no server and no symbol files.')
    .argument('<file>', 'a crash file as the system wrote it, or a stack trace')
    .option('--json', 'print JSON: {"reports":[…]}, each in the canonical form')
    .action(async (path, options) => (await import('./read.ts')).read(path, options)),

  new Command('symbolicate')
    .description('Print a crash file in the names and lines of its source; needs no server.')
    .argument('<crash file>', 'a crash file as the system wrote it, or a stack trace')
    .option('--symbols <paths...>', 'symbol files, or folders that hold them', [])
    .option('--ours <packages...>', "packages of the app's own code (default: all that are no known library)", [])
    .option('--json', 'print JSON, of the form that /api/v1/symbolicated-schema.json of a server describes')
    .action(async (path, options) => (await import('./symbolicate.ts')).symbolicateFile(path, options)),

  new Command('symbols')
    .description('Say what a symbol file is, its ids, and what it covers.')
    .argument('<file>', 'a symbol file')
    .option('--json', 'print JSON')
    .action(async (path, options) => (await import('./symbols.ts')).describeSymbols(path, options)),

  new Command('demangle')
    .description('Read mangled names on standard input, one a line, and write them as their source has them.')
    .action(async () => (await import('./demangle.ts')).demangleLines()),

  onServer(new Command('upload'), 'upload')
    .description('Upload the symbol files of a build, and wait until they are indexed.')
    .argument('<paths...>', 'symbol files, or folders and zips that hold them: mapping.txt, .so, .debug, dSYM, .map, .pdb, .dll')
    .option('--version <version>', 'version name of the build, such as 4.3.1; files that carry an id need none')
    .option('--build <build>', 'build number of the build, such as 431')
    .option('--dry-run', 'say what would be sent and which ids are in it, and send nothing')
    .action(async (paths, options) => (await import('./upload.ts')).upload(paths, options)),

  changing(new Command('record-rollout'))
    .description('Record that a version was given to a share of people, halted or resumed.')
    .requiredOption('--version <version>', 'version name, such as 4.3.1')
    .addOption(new Option('--halt', 'it goes to no more people').conflicts('resume'))
    .option('--resume', 'it goes on after a halt')
    .option('--commit <id>', 'what the build was made of')
    .action(async (options) => (await import('./record.ts')).recordRollout(options)),

  changing(new Command('record-flag'))
    .description('Record that a feature flag was changed.')
    .requiredOption('--flag <name>', 'name of the flag')
    .option('--variant <variant>', 'the variant that people get', 'on')
    .action(async (options) => (await import('./record.ts')).recordFlag(options)),

  onServer(new Command('cases'), 'read')
    .description('List the cases of a scope, open ones of the last 30 days if nothing else is said; at most 100.')
    .option('--last <days>', 'how far back: 1d, 7d, 14d, 30d, 90d or all')
    .option('--version <version>', 'one version; with a + behind it, that one and all later')
    .option('--kind <kinds>', 'crash, hang, kill, error, with commas between several')
    .option('--cases <state>', 'open, closed, muted or all')
    .option('--assignee <who>', 'nobody, or the mail address of who looks after them')
    .option('--filter <filter>', 'conditions in the filter language')
    .option('--order <order>', 'reports, people, rate, newest, latest, worsening or news')
    .option('--json', 'print the answer as JSON')
    .action(async (options) => (await import('./cases.ts')).listCases(options)),

  onServer(new Command('case'), 'read')
    .description('Print a case with its newest report: what, since when, for whom, the stack, the likely change, and what came before.')
    .argument('<reference>', 'the reference of a case, such as LG-142')
    .addOption(new Option('--markdown', 'print Markdown, for a ticket or an assistant').conflicts('json'))
    .option('--json', 'print the answer as JSON')
    .action(async (reference, options) => (await import('./cases.ts')).showCase(reference, options)),

  onServer(new Command('ask'), 'read')
    .description('Answer a question about a scope, such as: affected people by carrier, version per week.')
    .argument('<question>', 'what to count, by what, over which steps of time; its words stand in docs/ask.md')
    .option('--last <days>', 'how far back: 1d, 7d, 14d, 30d, 90d or all')
    .option('--version <version>', 'one version; with a + behind it, that one and all later')
    .option('--kind <kinds>', 'crash, hang, kill, error, with commas between several')
    .option('--builds <builds>', 'released, excluded or any')
    .option('--filter <filter>', 'conditions in the filter language')
    .option('--exact', 'count everybody, however long it takes')
    .option('--json', 'print the answer as JSON')
    .action(async (question, options) => (await import('./ask.ts')).askQuestion(question, options)),

  onServer(new Command('close'), 'change')
    .description('Close cases as cured in a version; a report of that version or a later one opens them again.')
    .argument('<references...>', 'references of cases, such as LG-142')
    .requiredOption('--version <version>', 'the version that holds the cure')
    .action(async (references, options) => (await import('./cases.ts')).closeCases(references, options)),

  onServer(new Command('export'), 'change')
    .description('Write everything of an app into a folder, as lines of JSON; run again, it goes on where it was cut short.')
    .requiredOption('--to <folder>', 'the folder to write into')
    .option('--parquet', 'write reports, sessions and cases as Parquet too')
    .action(async (options) => (await import('./transfer.ts')).exportApp(options)),

  onServer(new Command('import'), 'change')
    .description('Take what "ember export" wrote into an app in which nothing has arrived yet; what is there already stays as it is.')
    .requiredOption('--from <folder>', 'the folder that was written')
    .action(async (options) => (await import('./transfer.ts')).importApp(options)),

  onServer(new Command('check-rollout'), 'read')
    .description(
      'Say whether a version may go to more people, by the conditions of its app. Exit code 0: yes, 1: no, 3: too early, 4: it could not be asked.',
    )
    .requiredOption('--version <version>', 'version name, such as 4.3.1')
    .option('--against <version>', 'the version to compare with; the last one that was out to everybody, if left out')
    .addOption(new Option('--align <how>', 'over the same days, or the days since each one came out').choices(['days', 'release']))
    .option('--json', 'print the answer as JSON')
    .action(async (options) => (await import('./check-rollout.ts')).checkRollout(options)),
];

const percentOf = (text: string): number => {
  const percent = Number(text.replace(/\s*%$/, ''));
  if (!(percent >= 0 && percent <= 100)) throw new InvalidArgumentError('It is a number from 0 to 100.');
  return percent;
};

/** The options of commands that change something on a server. */
function changing(command: Command): Command {
  return onServer(command, 'change')
    .option('--percent <percent>', 'share of people who may have it from now on', percentOf)
    .option('--at <time>', 'when it was done, as 2026-11-28T08:00:00Z; now, if left out')
    .option('--note <text>', 'what to remember of it');
}
