import { expect, it } from 'vitest';
import { uploadCommand } from './upload-command';

const command = (version: string, build: string) =>
  uploadCommand({
    server: { serverAddress: 'https://ember.example', serverVersion: '1.2.3' },
    appSlug: 'guide',
    version,
    build,
    need: { kind: 'mapping', symbolId: null, name: null },
  });

it.each([
  ['4.3.1', '431', '--version 4.3.1 --build 431'],
  ['4.3.1 beta', '431', "--version '4.3.1 beta' --build 431"],
  ["it's; rm -rf ~", '$(id)', "--version 'it'\\''s; rm -rf ~' --build '$(id)'"],
])('quotes %j and %j for the shell', (version, build, quoted) =>
  expect(command(version, build)).toBe(
    `npx --yes --package https://ember.example/downloads/1.2.3/rough-ember-cli.tgz ember upload --server https://ember.example --app guide ${quoted} mapping.txt`,
  ),
);

it.each([
  [{ kind: 'code', symbolId: '4f1a', name: 'libsong.so' }, 'path/to/unstripped/libsong.so'],
  [{ kind: 'code', symbolId: null, name: 'Lark Song' }, "--version 1.0 --build 1 'path/to/unstripped/Lark Song'"],
  [{ kind: 'sourcemap', symbolId: null, name: 'main.jsbundle' }, '--version 1.0 --build 1 main.jsbundle.map'],
] as const)('of %j names the file that is wanted, and the build where no id ties it', (need, words) =>
  expect(
    uploadCommand({
      server: { serverAddress: 'https://ember.example', serverVersion: '1.2.3' },
      appSlug: 'guide',
      version: '1.0',
      build: '1',
      need,
    }),
  ).toBe(
    `npx --yes --package https://ember.example/downloads/1.2.3/rough-ember-cli.tgz ember upload --server https://ember.example --app guide ${words}`,
  ),
);
