import { anrTrace } from './anr-trace/format.ts';
import { appleCrashText } from './apple-crash-text/format.ts';
import { appleIps } from './apple-ips/format.ts';
import type { CrashFormat } from './crash-format.ts';
import { exitInfo } from './exit-info/format.ts';
import { logcat } from './logcat/format.ts';
import { metricKit } from './metrickit/format.ts';
import { nativeCrash } from './native-crash/format.ts';
import { stackFormats } from './stacks.ts';
import { tombstoneProtobuf } from './tombstone-protobuf/format.ts';
import { tombstoneText } from './tombstone-text/format.ts';

/** Every form a crash file may have, in the order in which they are tried; stacks alone come last, as others hold them. */
export const crashFormats: readonly CrashFormat[] = [
  nativeCrash,
  tombstoneProtobuf,
  metricKit,
  appleIps,
  appleCrashText,
  logcat,
  tombstoneText,
  anrTrace,
  exitInfo,
  ...stackFormats,
];

const words: ReadonlyMap<string, string> = new Map(crashFormats.map((format) => [format.name, format.words]));

/** How people call a form, by its name. */
export const wordFormat = (name: string): string => words.get(name) ?? name;

/** The forms there are, as a sentence says them. */
export const knownFormats = crashFormats.map((format) => format.words).join(', ');
