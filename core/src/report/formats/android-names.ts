import type { ReportKind } from '../report-kinds.ts';
import { type FoundReport, foundDevice } from './found-report.ts';

/** `REASON_…` of android.app.ApplicationExitInfo, by number, with what each is for us; null: nothing went wrong. */
export const exitReasons: Readonly<Record<number, { name: string; kind: ReportKind | null; meaning: string }>> = {
  0: { name: 'UNKNOWN', kind: 'kill', meaning: 'ended for a reason the system does not know' },
  1: { name: 'EXIT_SELF', kind: null, meaning: 'ended itself' },
  2: { name: 'SIGNALED', kind: 'kill', meaning: 'ended by a signal' },
  3: { name: 'LOW_MEMORY', kind: 'kill', meaning: 'ended because the device ran out of memory' },
  4: { name: 'CRASH', kind: 'crash', meaning: 'an exception that nobody caught' },
  5: { name: 'CRASH_NATIVE', kind: 'crash', meaning: 'a crash in native code' },
  6: { name: 'ANR', kind: 'hang', meaning: 'the app did not respond' },
  7: { name: 'INITIALIZATION_FAILURE', kind: 'kill', meaning: 'the process did not start in time' },
  8: { name: 'PERMISSION_CHANGE', kind: null, meaning: 'a permission was changed' },
  9: { name: 'EXCESSIVE_RESOURCE_USAGE', kind: 'kill', meaning: 'used too much of the device' },
  10: { name: 'USER_REQUESTED', kind: null, meaning: 'the person closed it' },
  11: { name: 'USER_STOPPED', kind: null, meaning: 'the user of the device was stopped' },
  12: { name: 'DEPENDENCY_DIED', kind: 'kill', meaning: 'a process it depends on ended' },
  13: { name: 'OTHER', kind: 'kill', meaning: 'ended by the system for another reason' },
  14: { name: 'FREEZER', kind: 'kill', meaning: 'was frozen and could not go on' },
  15: { name: 'PACKAGE_STATE_CHANGE', kind: null, meaning: 'the package was switched off' },
  16: { name: 'PACKAGE_UPDATED', kind: null, meaning: 'the app was updated' },
};

/** "Larkfield/od40/od40:14/UP1A.231005.007/430:user/release-keys" → what it says of the system and the device. */
export function readFingerprint(fingerprint: string): Pick<FoundReport, 'os' | 'device'> {
  const match = /^([^/]{1,60})\/[^/]{1,60}\/([^/:]{1,60}):(\d[\w.]{0,20})\/([^/]{1,60})\//.exec(fingerprint);
  if (!match) return { os: null, device: null };
  return {
    os: { name: 'Android', version: match[3] as string, build: match[4] as string },
    device: foundDevice({
      manufacturer: match[1] as string,
      model: match[2] as string,
      emulator: /^(?:generic|sdk_|emu)/.test(match[2] as string) || null,
    }),
  };
}

/** "2026-11-20 10:11:12.123456789+0100" → ISO; without a zone it is taken as UTC. */
export function parseAndroidTime(text: string): string | null {
  const match = /^(\d{4}-\d\d-\d\d)[ T](\d\d:\d\d:\d\d)(?:\.(\d{1,9}))? ?([+-]\d\d:?\d\d)?/.exec(text.trim());
  if (!match) return null;
  const zone = match[4] === undefined ? 'Z' : match[4].replace(/^(...)(\d\d)$/, '$1:$2');
  const at = Date.parse(`${match[1]}T${match[2]}.${(match[3] ?? '0').padEnd(3, '0').slice(0, 3)}${zone}`);
  return Number.isFinite(at) ? new Date(at).toISOString() : null;
}
