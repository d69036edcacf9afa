import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { defaultScope } from '@rough-ember/core/scope/scope';
import type { CodeSummary } from '@rough-ember/core/symbols/code/index-layout';
import { listSymbolFiles, listSymbolParts } from '@rough-ember/store/symbol-files';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { loadCaseFile } from '../desk/case-file.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const binaries = new URL('../../../core/samples/binaries/', import.meta.url);
const binary = (name: string) => new Uint8Array(readFileSync(new URL(`built/${name}`, binaries)));

/** An address inside an inlined call, and how many frames the compiler suite's symbolizer shows there. */
function inlinedPlace(): { address: number; frames: number } {
  const truth = gunzipSync(readFileSync(new URL('truth/clang-split5.so.tsv.gz', binaries)))
    .toString()
    .trimEnd()
    .split('\n');
  const most = truth.map((line) => line.split('\t')).sort((a, b) => b.length - a.length)[0] as string[];
  return { address: Number.parseInt(most[0] as string, 16), frames: (most.length - 2) / 4 };
}

const codeSummary = async (): Promise<CodeSummary> => {
  const files = await listSymbolFiles(server.database, server.app.id);
  const code = files.find((file) => file.kind === 'code' && file.fileName === 'libsong.so');
  const parts = await listSymbolParts(server.database, server.app.id, code?.id ?? 0);
  return parts.get(code?.id ?? 0)?.[0]?.summary as CodeSummary;
};

it('a package of split units completes the library it belongs to, and the reports that the library named before', async () => {
  const { address, frames } = inlinedPlace();
  await server.uploadSymbols(binary('clang-split5.so'), { name: 'libsong.so' });
  await server.settled();
  const before = await codeSummary();
  expect(before.missingSplitUnitCount).toBeGreaterThan(0);
  const path = '/data/app/~~Q/com.larkfield.guide-1/lib/arm64/libsong.so';
  await server.send(
    '/intake/v1/file?version=6.0.0&build=600',
    `*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***
ABI: 'x86_64'
pid: 4242, tid: 4260, name: song-worker  >>> com.larkfield.guide <<<
signal 5 (SIGTRAP), code 1 (TRAP_BRKPT), fault addr 0x0000007b2c1f4790
backtrace:
      #00 pc ${address.toString(16).padStart(16, '0')}  ${path} (BuildId: ${before.symbolId})
`,
  );
  await server.settled();
  const shown = async () => {
    const scope = { ...defaultScope, days: null };
    const file = await loadCaseFile(server.services, { app: server.app, ref: 'LG-1', scope, position: 0, now: new Date() });
    const { exceptions = [], threads = [] } = file?.report.readable ?? {};
    return [...exceptions, ...threads].find((one) => one.frames.length > 0)?.frames ?? [];
  };
  expect((await shown()).length).toBeLessThan(frames);

  const answer = await server.uploadSymbols(binary('clang-split5.so.dwp'), { name: 'libsong.so.dwp' });
  expect(answer.status).toBe(202);
  await server.settled();
  expect((await codeSummary()).missingSplitUnitCount).toBe(0);
  expect((await shown()).length).toBe(frames);
});
