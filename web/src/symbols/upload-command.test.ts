import { expect, it } from 'vitest';
import { uploadCommand } from './upload-command';

const command = (version: string, build: string) =>
  uploadCommand({ serverAddress: 'https://ember.example', appSlug: 'guide', version, build });

it.each([
  ['4.3.1', '431', '--version 4.3.1 --build 431'],
  ['4.3.1 beta', '431', "--version '4.3.1 beta' --build 431"],
  ["it's; rm -rf ~", '$(id)', "--version 'it'\\''s; rm -rf ~' --build '$(id)'"],
])('quotes %j and %j for the shell', (version, build, quoted) =>
  expect(command(version, build)).toBe(`npx ember upload --server https://ember.example --app guide ${quoted} mapping.txt`),
);
