import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isNativeCrash, readNativeCrash } from './read.ts';

const sample = (name: string) => new Uint8Array(readFileSync(new URL(`../../../../samples/native-crash/${name}.crash`, import.meta.url)));
const written = (...lines: string[]) => new TextEncoder().encode(`ember-crash 1\n${lines.join('\n')}\nend\n`);

describe('a crash file of the native client', () => {
  it('is known by its first bytes, and its room of zeros tells nothing', () => {
    expect(isNativeCrash(sample('null-x86_64'))).toBe(true);
    expect(isNativeCrash(new Uint8Array(262_144))).toBe(false);
  });

  it('takes the unwinder’s stack where it has one, and that of frame pointers where not', () => {
    const frames = (...lines: string[]) =>
      readNativeCrash(written('crashed 7 main', ...lines)).exceptions[0]?.frames.map((frame) =>
        frame.runtime === 'native' ? [frame.address, frame.pointsAt] : null,
      );
    expect(frames('pointer 0x10', 'pointer 0x20', 'image 0x0 0x1 0x0 0x0 - /a', 'unwound 0x10', 'unwound 0x30')).toEqual([
      ['0x10', 'instruction'],
      ['0x30', 'after-call'],
    ]);
    expect(frames('pointer 0x10', 'pointer 0x20', 'unwound 0x10')).toEqual([
      ['0x10', 'instruction'],
      ['0x20', 'after-call'],
    ]);
  });

  it('places addresses in images as the linker counts them, of an archive too', () => {
    const { exceptions, images } = readNativeCrash(
      written('image 0x7000 0x9000 0x6000 0x1c000 12ab /data/app/base.apk', 'crashed 7 main', 'pointer 0x7a10', 'pointer 0x9000'),
    );
    expect(exceptions[0]?.frames).toMatchObject([
      { image: '/data/app/base.apk', symbolId: '12ab', imageAddress: '0x1a10', fileOffset: '0x1c000' },
      { image: null, address: '0x9000' },
    ]);
    expect(images).toMatchObject([{ name: '/data/app/base.apk', symbolId: '12ab', loadAddress: '0x7000', sizeBytes: 0x2000 }]);
  });

  it('tells what the app said: circumstances, flags, attributes, its trail, and what was thrown', () => {
    const found = readNativeCrash(
      written(
        'id 0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6',
        'kind error',
        'time 1796108693205',
        'version 4.3.0',
        'value deviceModel Brill 6a',
        'value osName Android',
        'value osVersion 15',
        'value sessionId 2c5e28ba-2fa1-41d2-883f-0016d3cca427',
        'value flag.night-map on',
        'value attribute.zoom%20level 14 %25',
        'exception std::runtime_error no perch%0Aat all',
        'trail {"kind":"screen","at":"2026-11-30T10:00:00Z","name":"Map"}',
        'trail [not JSON',
      ),
    );
    expect(found).toMatchObject({
      id: '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6',
      kind: 'error',
      occurredAt: '2026-12-01T07:04:53.205Z',
      version: '4.3.0',
      build: null,
      os: { name: 'Android', version: '15' },
      device: { model: 'Brill 6a' },
      sessionId: '2c5e28ba-2fa1-41d2-883f-0016d3cca427',
      flags: { 'night-map': 'on' },
      attributes: { 'zoom level': '14 %' },
      trail: [{ kind: 'screen', name: 'Map' }],
      exceptions: [{ type: 'std::runtime_error', message: 'no perch\nat all' }],
    });
  });

  it('that is cut off anywhere says what it says, and that the rest is missing', () => {
    const whole = sample('throw-through-c-x86_64');
    const full = readNativeCrash(whole);
    expect(full.notes).toEqual([]);
    for (let bytes = 12; bytes < whole.length; bytes++) {
      const room = new Uint8Array(whole.length + 64);
      room.set(whole.subarray(0, bytes));
      const cut = readNativeCrash(room);
      expect(cut.notes).toEqual(['the process ended while the file was written; what follows is missing']);
      expect(full.exceptions[0]?.frames.length).toBeGreaterThanOrEqual(cut.exceptions[0]?.frames.length ?? 0);
      expect([null, full.id]).toContain(cut.id);
    }
  });

  it('of eight megabytes of frames, threads and images is read within bounds', () => {
    const images = Array.from(
      { length: 3_000 },
      (_, at) => `image 0x${(at * 4096).toString(16)} 0x${(at * 4096 + 4096).toString(16)} 0x0 0x0 - /lib${at}`,
    );
    const threads = Array.from({ length: 400 }, (_, at) => `thread ${at} t\n${'frame 0x7a1000\n'.repeat(1_200)}`.trimEnd());
    const { threads: read, images: placed } = readNativeCrash(written(...images, 'crashed 1 main', 'pointer 0x10', ...threads));
    expect(placed.length).toBeLessThanOrEqual(2_000);
    expect(read.reduce((sum, thread) => sum + thread.frames.length, 0)).toBeLessThanOrEqual(20_000);
  });

  it('of any lines is read', () => {
    const word = fc.constantFrom(
      'crashed',
      'thread',
      'register',
      'pointer',
      'unwound',
      'image',
      'value',
      'signal',
      'beyond',
      'constructor',
      '',
    );
    const line = fc.tuple(word, fc.string({ maxLength: 60 })).map(([first, rest]) => `${first} ${rest.replaceAll('\n', '')}`);
    fc.assert(
      fc.property(fc.array(line, { maxLength: 60 }), (lines) => {
        expect(readNativeCrash(written(...lines)).format).toBe('native-crash');
      }),
    );
  });
});
