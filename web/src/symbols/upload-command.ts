import type { SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { familyOf } from '@rough-ember/core/symbols/families';
import { downloadOf } from '../client/downloads';
import type { PageShell } from '../shell/page-shell';

/**
 * The command that uploads the symbol file of one build, to be pasted into a shell in the project's root. It takes the command line
 * from this server: a name alone would be looked for among everybody's packages.
 */
export function uploadCommand({
  server,
  appSlug,
  version,
  build,
  need,
}: {
  server: Pick<PageShell, 'serverAddress' | 'serverVersion'>;
  appSlug: string;
  version: string;
  build: string;
  need: SymbolNeed;
}): string {
  // A file with the wanted id needs no version: the id ties it.
  const isTiedById = need.symbolId !== null && !familyOf(need.kind).isOfBuild;
  const tie = isTiedById ? '' : ` --version ${quote(version)} --build ${quote(build)}`;
  return `npx --yes --package ${downloadOf(server, 'rough-ember-cli.tgz')} ember upload --server ${server.serverAddress} --app ${appSlug}${tie} ${quote(familyOf(need.kind).usualFile(need.name))}`;
}

const quote = (text: string): string => (/^[\w.@%+:,/-]+$/.test(text) ? text : `'${text.replaceAll("'", `'\\''`)}'`);
