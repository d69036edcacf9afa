/** The command that uploads the mapping of one build, to be pasted into a shell in the project's root. */
export function uploadCommand({
  serverAddress,
  appSlug,
  version,
  build,
}: {
  serverAddress: string;
  appSlug: string;
  version: string;
  build: string;
}): string {
  return `npx ember upload --server ${serverAddress} --app ${appSlug} --version ${quote(version)} --build ${quote(build)} mapping.txt`;
}

const quote = (text: string): string => (/^[\w.@%+:,/-]+$/.test(text) ? text : `'${text.replaceAll("'", `'\\''`)}'`);
