import { execFile, execFileSync, spawn } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { readCrashFile } from '@rough-ember/core/report/formats/crash-file';
import type { FoundReport } from '@rough-ember/core/report/formats/found-report';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const run = promisify(execFile);
const place = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const native = place('../../collector/native');
const program = place('../bin/ember.mjs');
const folder = mkdtempSync(join(tmpdir(), 'ember-native-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** How often each crash is tried: `EMBER_TEST_CRASHES=200` is what the documentation tells of. */
const times = Number(process.env.EMBER_TEST_CRASHES ?? 3);

/** A machine that programs are built for, and what runs them here. */
interface Machine {
  readonly name: string;
  readonly compilers: string;
  readonly options: readonly string[];
  readonly runner: readonly string[];
}
const machines: readonly Machine[] = [
  { name: 'this machine', compilers: '', options: [], runner: [] },
  {
    name: 'ARM64, emulated',
    compilers: 'aarch64-linux-gnu-',
    options: ['-fno-omit-frame-pointer'],
    runner: ['qemu-aarch64', '-L', '/usr/aarch64-linux-gnu'],
  },
  {
    name: 'ARM, emulated',
    compilers: 'arm-linux-gnueabihf-',
    options: ['-funwind-tables', '-fno-omit-frame-pointer'],
    runner: ['qemu-arm', '-L', '/usr/arm-linux-gnueabihf'],
  },
];
const canRun = ({ compilers, runner: [emulator] }: Machine): boolean =>
  existsSync(`/usr/bin/${compilers}g++`) && (emulator === undefined || existsSync(`/usr/bin/${emulator}`));

/** Each way to crash: the signal that the process still ends by, what it is told as, and a function of its own that it came through. */
const crashes = [
  { how: 'null', signal: 'SIGSEGV', type: 'SIGSEGV', through: 'birds::count(birds::Nest const*, int)' },
  { how: 'nowhere', signal: 'SIGSEGV', type: 'SIGSEGV', through: 'main' },
  { how: 'overflow', signal: 'SIGSEGV', type: 'SIGSEGV', through: 'birds::deep(int)' },
  { how: 'abort', signal: 'SIGABRT', type: 'SIGABRT', through: 'main' },
  { how: 'free', signal: 'SIGABRT', type: 'SIGABRT', through: 'main' },
  { how: 'throw', signal: 'SIGABRT', type: 'std::runtime_error', through: 'birds::sing(char const*)' },
  { how: 'throw-c', signal: 'SIGABRT', type: 'std::runtime_error', through: 'through_c' },
  { how: 'thread', signal: 'SIGSEGV', type: 'SIGSEGV', through: 'birds::visit(birds::Nest const*)' },
  { how: 'thread-overflow', signal: 'SIGSEGV', type: 'SIGSEGV', through: 'birds::deep(int)' },
  { how: 'handler', signal: 'SIGSEGV', type: 'SIGSEGV', through: 'again(int)' },
] as const;

/** What ARM's unwinder cannot pass, so that of these only the reason and the registers are sure. */
const hardForArm: ReadonlySet<string> = new Set(['abort', 'free', 'throw', 'throw-c', 'handler', 'nowhere']);

const filesIn = (where: string): string[] =>
  existsSync(where)
    ? readdirSync(where)
        .map((name) => join(where, name))
        .filter((path) => readFileSync(path).subarray(0, 12).toString() === 'ember-crash ')
    : [];

function read(path: string): FoundReport {
  const result = readCrashFile(new Uint8Array(readFileSync(path)), { receivedAt: new Date().toISOString() });
  if (!result.ok) throw new Error(`${path}: ${result.problem.message}`);
  return result.value[0] as FoundReport;
}

describe.each(machines.filter(canRun))('a program with the native client on $name', ({ name, compilers, options, runner }) => {
  const work = join(folder, compilers || 'here');
  const crasher = join(work, 'crasher');
  beforeAll(() => {
    mkdirSync(work);
    const build = (compiler: string, ...more: string[]) =>
      execFileSync(`${compilers}${compiler}`, ['-O1', '-g', '-Wall', '-Wextra', '-Werror', ...options, '-I', native, ...more]);
    build('gcc', '-std=c11', '-Wpedantic', '-Wshadow', '-c', join(native, 'ember_native.c'), '-o', join(work, 'client.o'));
    build('g++', join(native, 'testing/crasher.cpp'), join(work, 'client.o'), '-o', crasher, '-lpthread', '-Wl,--build-id');
  });

  /** Runs it to its end; gives the signal that it ended by. */
  const start = (...args: string[]) => {
    const [command, ...rest] = [...runner, crasher, ...args];
    return spawn(command as string, rest, { stdio: 'ignore' });
  };
  const crash = (where: string, how: string): Promise<string | null> =>
    new Promise((resolve) => start(where, how).once('exit', (_code, signal) => resolve(signal)));
  const pending = async (where: string): Promise<string[]> => {
    const [command, ...rest] = [...runner, crasher, where, 'pending'];
    const { stdout } = await run(command as string, rest);
    return stdout.split('\n').filter(Boolean);
  };

  it.each(crashes)('that ends by $how tells it once, readable, and ends as it would have', async ({ how, signal, type, through }) => {
    const where = join(work, how);
    for (let time = 0; time < times; time++) expect(await crash(where, how)).toBe(signal);
    const files = await pending(where);
    expect(files.length).toBe(times);
    for (const file of files) {
      const found = read(file);
      expect(found.kind).toBe('crash');
      expect(found.exceptions[0]?.type).toBe(type);
      expect(found).toMatchObject({ version: '4.3.0', build: '430', personId: 'warden-7', attributes: { 'zoom level': '14 % of it' } });
      expect(found.trail).toEqual([{ kind: 'screen', at: '2026-11-30T10:00:00Z', name: 'Map' }]);
      expect(found.notes.filter((note) => note.includes('missing'))).toEqual([]);
      // The unwinder of ARM may fail on a stack that is full, after which no thread is asked.
      if (!name.startsWith('ARM,')) expect(found.threads.length).toBeGreaterThan(1);
    }
    expect(new Set(files.map((file) => read(file).id)).size).toBe(times);
    if (name.startsWith('ARM,') && hardForArm.has(how)) return;
    const { stdout } = await run(process.execPath, [program, 'symbolicate', files[0] as string, '--symbols', crasher, '--json']);
    const [exception] = JSON.parse(stdout).exceptions;
    expect(exception.frames.map((frame: { function: string }) => frame.function)).toContain(through);
  });

  it('tells an error that it handles, with the stack of whoever called', async () => {
    const where = join(work, 'error');
    expect(await crash(where, 'error')).toBeNull();
    const [file] = await pending(where);
    expect(read(file as string)).toMatchObject({ kind: 'error', exceptions: [{ type: 'Perch', message: 'none free' }] });
  });

  it('leaves nothing behind where nothing happened, and takes no file of one that still runs', async () => {
    const where = join(work, 'well');
    await crash(where, 'well');
    expect(readdirSync(where)).toEqual([]);
    const waiting = start(where, 'wait');
    await expect.poll(() => readdirSync(where).length).toBe(1);
    expect(await pending(where)).toEqual([]);
    expect(readdirSync(where).length).toBe(1);
    waiting.kill('SIGKILL');
    await new Promise((resolve) => waiting.once('exit', resolve));
    expect(await pending(where)).toEqual([]);
    expect(readdirSync(where)).toEqual([]);
  });

  it('that is killed while it tells leaves what can be read, or nothing', async () => {
    const where = join(work, 'killed');
    const ids = new Set<string>();
    for (let time = 0; time < 6 * times; time++) {
      const child = start(where, 'thread');
      const ended = new Promise((resolve) => child.once('exit', resolve));
      await pause(20 + ((time * 7) % 45));
      child.kill('SIGKILL');
      await ended;
    }
    const told = filesIn(where);
    for (const file of await pending(where)) {
      const found = read(file);
      expect(['crash', 'error']).toContain(found.kind);
      if (found.id !== null) ids.add(found.id);
    }
    expect(ids.size).toBe(told.filter((file) => read(file).id !== null).length);
  });
});
