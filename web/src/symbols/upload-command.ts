import type { SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { usualFile } from './symbol-words';

/** The command that uploads the symbol file of one build, to be pasted into a shell in the project's root. */
export function uploadCommand({
  serverAddress,
  appSlug,
  version,
  build,
  need,
}: {
  serverAddress: string;
  appSlug: string;
  version: string;
  build: string;
  need: SymbolNeed;
}): string {
  // A file with the wanted id needs no version: the id ties it.
  const isTiedById = need.symbolId !== null && need.kind !== 'mapping' && need.kind !== 'sourcemap';
  const tie = isTiedById ? '' : ` --version ${quote(version)} --build ${quote(build)}`;
  return `npx ember upload --server ${serverAddress} --app ${appSlug}${tie} ${quote(usualFile(need))}`;
}

const quote = (text: string): string => (/^[\w.@%+:,/-]+$/.test(text) ? text : `'${text.replaceAll("'", `'\\''`)}'`);
