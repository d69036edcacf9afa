import type { ReportKind } from '../report-kinds.ts';

/** What the kernel and its services put in numbers, in the words of their headers (mach/exception_types.h, sys/reason.h). */

/** `bug_type` of the reports that tell of an app; others are of the system. */
export const bugTypes: Readonly<Record<string, { kind: ReportKind; name: string }>> = {
  '109': { kind: 'crash', name: 'crash' },
  '309': { kind: 'crash', name: 'crash' },
  '327': { kind: 'crash', name: 'crash' },
  '385': { kind: 'crash', name: 'crash' },
  '298': { kind: 'kill', name: 'memory kill' },
  '198': { kind: 'hang', name: 'hang' },
  '228': { kind: 'hang', name: 'hang' },
  '284': { kind: 'hang', name: 'hang' },
  '288': { kind: 'hang', name: 'stack sample' },
};

/** Terminations by which the system ended an app that had not crashed: watchdogs, resources, privacy. */
const killingNamespaces = new Set([
  'FRONTBOARD',
  'SPRINGBOARD',
  'RUNNINGBOARD',
  'JETSAM',
  'CPU',
  'WAKEMON',
  'LIBXPC',
  'TCC',
  'PORTS',
  'MEMORY',
]);

/** Codes whose hexadecimal digits were chosen to be read. */
const knownCodes: Readonly<Record<string, string>> = {
  '0x8badf00d': 'the watchdog ended it: it took too long to start, to end or to answer',
  '0xdead10cc': 'it held a file lock or a database while it was suspended',
  '0xbaadca11': 'it did not report a call',
  '0xbad22222': 'it was started too often',
  '0xbaddd15c': 'its files were purged to make room',
  '0xc00010ff': 'the device grew too hot',
  '0xdeadfa11': 'the person forced it to quit',
  '0xc51bad01': 'it used too much processor time in the background',
  '0xc51bad02': 'it did not finish its background task in time',
  '0xc51bad03': 'it did not finish its background task in time while the system was busy',
};

export interface Termination {
  readonly namespace: string;
  readonly code: string | null;
  readonly indicator: string | null;
}

/** What a termination means: its kind and, when the code is known, a sentence. */
export function explainTermination({ namespace, code }: Termination): { kind: ReportKind; meaning: string | null } {
  const meaning = code === null ? null : (knownCodes[code.toLowerCase()] ?? null);
  return { kind: killingNamespaces.has(namespace.toUpperCase()) || meaning !== null ? 'kill' : 'crash', meaning };
}

const machExceptions: Readonly<Record<number, string>> = {
  1: 'EXC_BAD_ACCESS',
  2: 'EXC_BAD_INSTRUCTION',
  3: 'EXC_ARITHMETIC',
  4: 'EXC_EMULATION',
  5: 'EXC_SOFTWARE',
  6: 'EXC_BREAKPOINT',
  7: 'EXC_SYSCALL',
  8: 'EXC_MACH_SYSCALL',
  9: 'EXC_RPC_ALERT',
  10: 'EXC_CRASH',
  11: 'EXC_RESOURCE',
  12: 'EXC_GUARD',
  13: 'EXC_CORPSE_NOTIFY',
};
export const machExceptionName = (number: number): string => machExceptions[number] ?? `Mach exception ${number}`;

const signals: Readonly<Record<number, string>> = {
  1: 'SIGHUP',
  3: 'SIGQUIT',
  4: 'SIGILL',
  5: 'SIGTRAP',
  6: 'SIGABRT',
  7: 'SIGEMT',
  8: 'SIGFPE',
  9: 'SIGKILL',
  10: 'SIGBUS',
  11: 'SIGSEGV',
  12: 'SIGSYS',
  13: 'SIGPIPE',
  15: 'SIGTERM',
};
export const appleSignalName = (number: number): string => signals[number] ?? `signal ${number}`;

/** "iPhone OS 17.5.1 (21F90)" → name, version and build. */
export function parseAppleOs(text: string): { name: string; version: string; build: string | null } | null {
  const match = /^(.*?) (\d[\w.]*)(?: \(?(?:Build )?(\w+)\)?)?$/.exec(text.trim());
  if (!match) return null;
  const name = match[1] === 'iPhone OS' ? 'iOS' : (match[1] as string);
  return { name: name.slice(0, 50), version: (match[2] as string).slice(0, 50), build: match[3] ?? null };
}

/** "2026-11-20 10:11:12.1234 +0100" → ISO, null when it is no time. */
export function parseAppleTime(text: string): string | null {
  const match = /^(\d{4}-\d\d-\d\d)[ T](\d\d:\d\d:\d\d)(?:\.(\d{1,9}))? ?([+-]\d\d):?(\d\d)|^(\d{4}-\d\d-\d\d \d\d:\d\d:\d\d)/.exec(
    text.trim(),
  );
  if (!match) return null;
  const at = match[6]
    ? Date.parse(`${match[6].replace(' ', 'T')}Z`)
    : Date.parse(`${match[1]}T${match[2]}.${(match[3] ?? '0').padEnd(3, '0').slice(0, 3)}${match[4]}:${match[5]}`);
  return Number.isFinite(at) ? new Date(at).toISOString() : null;
}

/** A UUID as symbol id: digits only, lower case. */
export const symbolIdOf = (uuid: string): string => uuid.replaceAll('-', '').toLowerCase().slice(0, 200);
