import { describe, expect, it } from 'vitest';
import { exitReasons, parseAndroidTime, readFingerprint } from './android-names.ts';
import { appleSignalName, explainTermination, machExceptionName, parseAppleOs, parseAppleTime, symbolIdOf } from './apple-names.ts';
import { asCount, asHexadecimal } from './json-reader.ts';

describe('times', () => {
  it.each([
    ['2026-11-20 10:11:12.1234 +0100', '2026-11-20T09:11:12.123Z'],
    ['2026-11-20 10:11:14.00 +0100', '2026-11-20T09:11:14.000Z'],
    ['2026-11-20 22:59:00', '2026-11-20T22:59:00.000Z'],
    ['yesterday', null],
    ['2026-13-40 10:11:12 +0100', null],
  ])('Apple writes %s', (text, iso) => expect(parseAppleTime(text)).toBe(iso));

  it.each([
    ['2026-11-20 10:11:12.123456789+0100', '2026-11-20T09:11:12.123Z'],
    ['2026-11-20 10:11:12', '2026-11-20T10:11:12.000Z'],
    ['', null],
  ])('Android writes %s', (text, iso) => expect(parseAndroidTime(text)).toBe(iso));
});

describe('systems and devices', () => {
  it.each([
    ['iPhone OS 17.5.1 (21F90)', { name: 'iOS', version: '17.5.1', build: '21F90' }],
    ['macOS 14.4 (23E214)', { name: 'macOS', version: '14.4', build: '23E214' }],
    ['Watch OS 10.5', { name: 'Watch OS', version: '10.5', build: null }],
    ['something', null],
  ])('%s', (text, os) => expect(parseAppleOs(text)).toEqual(os));

  it('a fingerprint tells system, build and device', () => {
    expect(readFingerprint('Tarn/x2/x2:14/UP1A.231005.007/11223344:user/release-keys')).toMatchObject({
      os: { name: 'Android', version: '14', build: 'UP1A.231005.007' },
      device: { manufacturer: 'Tarn', model: 'x2', emulator: null },
    });
    expect(readFingerprint('google/sdk_gphone64/emu64:14/UE1A/1:userdebug/dev-keys').device).toMatchObject({ emulator: true });
    expect(readFingerprint('unknown')).toEqual({ os: null, device: null });
  });
});

describe('ends', () => {
  it.each([
    ['FRONTBOARD', '0x8badf00d', 'kill', 'watchdog'],
    ['RUNNINGBOARD', '0xdead10cc', 'kill', 'file lock'],
    ['JETSAM', null, 'kill', null],
    ['SIGNAL', '0xb', 'crash', null],
  ])('%s %s is a %s', (namespace, code, kind, meaning) => {
    const explained = explainTermination({ namespace, code, indicator: null });
    expect(explained.kind).toBe(kind);
    if (meaning === null) expect(explained.meaning).toBeNull();
    else expect(explained.meaning).toContain(meaning);
  });

  it('have the names of the kernel’s headers', () => {
    expect([machExceptionName(1), machExceptionName(12), machExceptionName(99)]).toEqual([
      'EXC_BAD_ACCESS',
      'EXC_GUARD',
      'Mach exception 99',
    ]);
    expect([appleSignalName(6), appleSignalName(10), appleSignalName(77)]).toEqual(['SIGABRT', 'SIGBUS', 'signal 77']);
  });

  it('that nobody is to blame for become no report', () => {
    expect(Object.values(exitReasons).flatMap(({ name, kind }) => (kind === null ? [name] : []))).toEqual([
      'EXIT_SELF',
      'PERMISSION_CHANGE',
      'USER_REQUESTED',
      'USER_STOPPED',
      'PACKAGE_STATE_CHANGE',
      'PACKAGE_UPDATED',
    ]);
  });
});

it('a UUID and a symbol id are the same digits', () =>
  expect(symbolIdOf('70B89F27-1634-3580-A695-57CDB41D7743')).toBe('70b89f2716343580a69557cdb41d7743'));

it.each([
  [4_373_839_872, '0x104b38000'],
  ['0x1A', '0x1a'],
  [-1, null],
  [1.5, null],
  [2 ** 70, null],
  ['twelve', null],
])('the address %s is %s', (value, text) => expect(asHexadecimal(value)).toBe(text));

it.each([
  [12, 12],
  ['12', 12],
  [-1, null],
  [2 ** 60, null],
  [null, null],
])('the count %s is %s', (value, count) => expect(asCount(value)).toBe(count));
