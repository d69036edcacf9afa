import { describe, expect, it } from 'vitest';
import { nativeFrames, onlyReport } from '../../testing/read-text.ts';

describe('an older crash report', () => {
  const head = ['Incident Identifier: 0A1B2C3D-0000-4000-8000-AABBCCDDEEFF', 'Process:  Guide [417]'];
  const crash = (...lines: string[]) => onlyReport([...head, ...lines].join('\n'));

  it.each([
    ['Version:  4.3.0 (430)', '4.3.0', '430'],
    ['Version:  430 (4.3.0)', '4.3.0', '430'],
    ['Version:  4.3.0', '4.3.0', null],
    ['Version:  7 (8)', '7', '8'],
    ['Version:  ', null, null],
  ])('with %s', (line, version, build) => expect(crash(line, 'Thread 0:')).toMatchObject({ version, build }));

  it.each([
    ['Termination Reason: Namespace SPRINGBOARD, Code 0x8badf00d', 'kill', 'SPRINGBOARD 0x8badf00d'],
    ['Termination Reason: FRONTBOARD 2343432205', 'kill', 'FRONTBOARD 0x8badf00d'],
    ['Termination Description: SPRINGBOARD, <RBSTerminateContext code:0xDEAD10CC>', 'kill', 'SPRINGBOARD 0xdead10cc'],
    ['Termination Reason: SIGNAL; [0xb]', 'crash', 'SIGNAL 0xb'],
    ['Termination Reason: left without a word', 'crash', 'termination'],
  ])('ended by "%s" is a %s', (line, kind, type) => {
    const report = crash(line, '', 'Thread 0:');
    expect(report.kind).toBe(kind);
    expect(report.exceptions[0]).toMatchObject({ type });
    expect(report.exceptions[0]?.message).toContain(line.replace(/^[^:]*: /, ''));
  });

  it('of an event that is a hang is one', () => {
    expect(crash('Event:  hang', '', 'Thread 0:', '0  Guide  0x1')).toMatchObject({ kind: 'hang', exceptions: [{ type: 'hang' }] });
  });

  const images = [
    'Binary Images:',
    '0x100000000 - 0x100003fff +Guide arm64  <0a1b2c3d000040008000aabbccddeeff> /var/Guide.app/Guide',
    '0x1a0000000 - ??? libfar.dylib (1.2) <11111111-0000-4000-8000-000000000000>',
    'not an image',
  ];

  it('ties frames to images by their range, and by name where the range is not told', () => {
    const report = crash(
      'Thread 0 Crashed:',
      '0   Guide            0x0000000100000010 tile(at:) + 4 (Map.swift:12)',
      '1   libfar.dylib     0x00000001a0000020 0x1a0000000 + 32',
      '2   elsewhere        0x0000000200000000 0x200000000 + 0',
      '3   libfar.dylib     0x0000000000000001 main (in Guide) (main.m:7)',
      'half a line',
      '',
      ...images,
    );
    expect(nativeFrames(report.exceptions[0]?.frames)).toMatchObject([
      {
        image: '/var/Guide.app/Guide',
        imageOffset: '0x10',
        function: 'tile(at:)',
        functionOffset: 4,
        file: 'Map.swift',
        line: 12,
        pointsAt: 'instruction',
      },
      {
        image: 'libfar.dylib (1.2)',
        imageOffset: '0x20',
        function: null,
        symbolId: '11111111000040008000000000000000',
        pointsAt: 'after-call',
      },
      { image: 'elsewhere', imageOffset: null, symbolId: null },
      { image: 'libfar.dylib (1.2)', imageOffset: null, function: 'main', file: 'main.m', line: 7 },
    ]);
    expect(report.images).toEqual([
      {
        name: '/var/Guide.app/Guide',
        symbolId: '0a1b2c3d000040008000aabbccddeeff',
        architecture: 'arm64',
        loadAddress: '0x100000000',
        sizeBytes: 16_384,
      },
      {
        name: 'libfar.dylib (1.2)',
        symbolId: '11111111000040008000000000000000',
        architecture: null,
        loadAddress: '0x1a0000000',
        sizeBytes: 1,
      },
    ]);
  });

  it('keeps names of threads, the registers of the one that crashed, and parts that are only to be read', () => {
    const report = crash(
      'Hardware Model:  Phone15,2',
      'Beta:  yes',
      '',
      'Thread 0 name:  Dispatch queue: tiles',
      'Thread 0:',
      '0  Guide  0x1',
      '',
      'Thread 1 Crashed:  audio',
      '0  Guide  0x2',
      '',
      'Thread 1 crashed with ARM Thread State (64-bit):',
      '    x0: 0x00000000000000FF   x1: 0x0000000000000001',
      '   pc: 0x0000000100000010 cpsr: 0x60000000',
      '',
      'VM Region Info: 0x10 is not in any region.',
      '      REGION TYPE   START - END',
      '',
      'something more',
    );
    expect(report.threads.map(({ name, crashed }) => [name, crashed])).toEqual([
      ['Dispatch queue: tiles', false],
      ['audio', true],
    ]);
    expect(report.threads[1]?.registers).toEqual({
      x0: '0x00000000000000ff',
      x1: '0x0000000000000001',
      pc: '0x0000000100000010',
      cpsr: '0x60000000',
    });
    expect(report.device).toMatchObject({ model: 'Phone15,2' });
    expect(Object.fromEntries(report.sections.map(({ name, text }) => [name, text]))).toEqual({
      'Further fields of the report': 'Beta: yes',
      'Further parts of the report': 'VM Region Info: 0x10 is not in any region.\n      REGION TYPE   START - END\nsomething more',
    });
  });

  it('takes an exception without a crashed thread from its own backtrace, named or bare', () => {
    const said = [
      "*** Terminating app due to uncaught exception 'NSGenericException', reason: 'no perch'",
      'terminating with uncaught exception',
    ];
    const report = crash(
      '',
      'Application Specific Information:',
      ...said,
      '',
      'Last Exception Backtrace:',
      '(0x100000010 0x100000020)',
      '',
      'Thread 0:',
      '',
      ...images,
    );
    expect(report.exceptions.map(({ type, message, relation }) => [type, message, relation])).toEqual([
      ['NSGenericException', 'no perch', 'thrown'],
    ]);
    expect(nativeFrames(report.exceptions[0]?.frames).map(({ imageOffset, pointsAt }) => [imageOffset, pointsAt])).toEqual([
      ['0x10', 'after-call'],
      ['0x20', 'after-call'],
    ]);
    expect(report.attributes['apple.applicationInformation']).toBe(said.join('\n'));
  });
});
