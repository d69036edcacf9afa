import { describe, expect, it } from 'vitest';
import { formatFrame } from './format-frame.ts';
import { parseDartFrame } from './formats/dart-stack/read.ts';
import { parseDotnetFrame } from './formats/dotnet-stack/read.ts';
import { parseAtFrame, parseAtSignFrame } from './formats/javascript-stack/frame.ts';
import { parseTombstoneFrame } from './formats/tombstone-frame.ts';
import type { Frame } from './frames.ts';

describe('frames of the dialect with "at"', () => {
  it.each([
    ['    at frameAt (/app/feeder.js:30:28)', { function: 'frameAt', file: '/app/feeder.js', line: 30, column: 28 }],
    [
      '    at http://localhost:8081/index.bundle?platform=ios&dev=false:4128:33',
      { function: null, file: 'http://localhost:8081/index.bundle?platform=ios&dev=false', line: 4128 },
    ],
    ['    at async loadClips (file:///app/a.mjs:3:9)', { function: 'loadClips', async: true, file: 'file:///app/a.mjs' }],
    ['    at async Promise.all (index 0)', { function: 'Promise.all', async: true, file: null }],
    ['    at new Feeder (a.js:1:2)', { function: 'new Feeder' }],
    ['    at Function.executeUserEntryPoint [as runMain] (node:internal/run_main:164:12)', { function: 'Function.executeUserEntryPoint' }],
    ['    at Array.map (<anonymous>)', { function: 'Array.map', file: null, line: null, native: false }],
    ['    at map (native)', { function: 'map', native: true }],
    ['    at trim (address at index.android.bundle:1:588211)', { file: 'index.android.bundle', line: 1, column: 588_211, bytecode: true }],
    [
      '    at rule (eval at evaluated (/a.js:40:12), <anonymous>:1:46)',
      { function: 'rule', evalOrigin: 'evaluated (/a.js:40:12)', line: 1, column: 46 },
    ],
    ['    at decode (wasm://wasm/8f3a:wasm-function[12]:0x1a4f)', { file: 'wasm://wasm/8f3a', column: 0x1a4f, bytecode: true }],
    ['    at C:\\app\\feeder.js:12:3', { file: 'C:\\app\\feeder.js', line: 12 }],
  ])('%s', (line, expected) => expect(parseAtFrame(line)).toMatchObject({ runtime: 'javascript', ...expected }));

  it.each([
    '\tat com.larkfield.guide.Map.open(Map.java:12)',
    '   at Larkfield.Survey.Store.Find(String name) in /src/Store.cs:line 21',
    'at the feeder',
    'at noon (or so)',
    'look at this (a.js:1:2)',
  ])('%j is none', (line) => expect(parseAtFrame(line)).toBeNull());
});

describe('frames of the dialect with "@"', () => {
  it.each([
    ['frameAt@feeder.js:30:7', { function: 'frameAt', file: 'feeder.js', line: 30, column: 7 }],
    ['@feeder.js:60:15', { function: null, file: 'feeder.js' }],
    ['map@[native code]', { function: 'map', native: true }],
    ['async*openFeed@https://a.example/app.js:1:2', { function: 'openFeed', async: true }],
    ['Clip.prototype.trim@feeder.js:7:3', { function: 'Clip.prototype.trim' }],
    ['global code@feeder.js:60:15', { function: 'global code' }],
    ['rule@feeder.js line 40 > eval:1:25', { function: 'rule', evalOrigin: 'feeder.js line 40', line: 1 }],
    ['value@4128:233', { function: 'value', file: null, line: 4128, column: 233 }],
    ['render@https://cdn.example/@scope/pkg.js:9:1', { function: 'render', file: 'https://cdn.example/@scope/pkg.js' }],
  ])('%s', (line, expected) => expect(parseAtSignFrame(line, true)).toMatchObject({ runtime: 'javascript', ...expected }));

  it.each(['mail me@host.example', 'wren@larkfield.example: 12', 'rule@', '@', 'see https://a.example/x.js:1:2'])(
    '%j is none by itself',
    (line) => expect(parseAtSignFrame(line, true)).toBeNull(),
  );

  it('takes looser forms inside a stack', () => {
    expect(parseAtSignFrame('rule@', false)).toMatchObject({ function: 'rule', file: null });
    expect(parseAtSignFrame('[native code]', false)).toMatchObject({ native: true });
    expect(parseAtSignFrame('https://a.example/x.js:1:2', false)).toMatchObject({ file: 'https://a.example/x.js', line: 1 });
  });
});

describe('.NET frames', () => {
  it.each([
    [
      '   at Larkfield.Survey.Store.Save(Plot plot) in /src/survey/Store.cs:line 31',
      { method: 'Larkfield.Survey.Store.Save', parameters: 'Plot plot', file: '/src/survey/Store.cs', line: 31 },
    ],
    [
      '  at Larkfield.Survey.Store.Save (Larkfield.Survey.Plot plot) [0x00008] in /tmp/survey/Survey.cs:31 ',
      { file: '/tmp/survey/Survey.cs', line: 31, ilOffset: 8 },
    ],
    [
      '  at System.Linq.Enumerable.Sum[TSource] (System.Func`2[T,TResult] selector) [0x00037] in <d22af090>:0 ',
      { module: 'd22af090', ilOffset: 0x37, file: null },
    ],
    ['   at A.B.<>c.<Next>b__2_1(Warden one) in A.dll:token 0x600003F+0x1c', { module: 'A.dll', token: '0x600003f', ilOffset: 0x1c }],
    ['   at A.B.C()', { method: 'A.B.C', parameters: '', file: null }],
    ['   at A.B..ctor(Func`2 f)', { method: 'A.B..ctor' }],
    ['   bei A.B.C(String s) in C:\\src\\A.cs:Zeile 7', { file: 'C:\\src\\A.cs', line: 7 }],
  ])('%s', (line, expected) => expect(parseDotnetFrame(line)).toMatchObject({ runtime: 'dotnet', ...expected }));

  it.each([
    '\tat com.larkfield.guide.Map.open(Map.java:12)',
    '\tat a.b.c(Unknown Source)',
    '    at f (a.js:1:2)',
    'at home (in bed)',
    'at A.B.C(Native Method)',
  ])('%j is none', (line) => expect(parseDotnetFrame(line)).toBeNull());
});

describe('Dart frames', () => {
  it.each([
    [
      '#1      TrailFile.parse (package:trails/trail_file.dart:27:18)',
      { function: 'TrailFile.parse', library: 'package:trails/trail_file.dart', line: 27, column: 18 },
    ],
    [
      '#5      _delayEntrypointInvocation.<anonymous closure> (dart:isolate-patch/isolate_patch.dart:297:19)',
      { function: '_delayEntrypointInvocation.<anonymous closure>' },
    ],
    ['#4      main (file:///src/trails/bin/trails.dart:9:3)', { library: 'file:///src/trails/bin/trails.dart' }],
    ['<asynchronous suspension>', { gap: true }],
    ['===== asynchronous gap ===========================', { gap: true }],
    ['package:trails/sync.dart 31:12   Sync.run.<fn>', { function: 'Sync.run.<fn>', line: 31, column: 12 }],
    ['dart:async                       _CustomZone.run', { function: '_CustomZone.run', library: 'dart:async', line: null }],
    [
      '    #00 abs 0000007a1b1234ab virt 00000000001234ab _kDartIsolateSnapshotInstructions+0x5e4ab',
      { address: '0x7a1b1234ab', imageAddress: '0x1234ab', symbol: '_kDartIsolateSnapshotInstructions+0x5e4ab' },
    ],
    ['    #01 abs 0000007a1b10a0f3 _kDartVmSnapshotInstructions+0x10', { imageAddress: null, symbol: '_kDartVmSnapshotInstructions+0x10' }],
  ])('%s', (line, expected) => expect(parseDartFrame(line)).toMatchObject({ runtime: 'dart', ...expected }));

  it.each(['#include <stdio.h>', '#1 best bird of the year', 'a quiet morning', 'notes.dart was changed'])('%j is none', (line) =>
    expect(parseDartFrame(line)).toBeNull(),
  );
});

describe('frames of Android’s unwinder', () => {
  it.each([
    [
      '#00 pc 000000000001a2b4  /data/app/base.apk!libsound.so (offset 0x1c000) (ns::peak(float const*)+84) (BuildId: 5F1D)',
      {
        image: '/data/app/base.apk!libsound.so',
        fileOffset: '0x1c000',
        function: 'ns::peak(float const*)',
        functionOffset: 84,
        symbolId: '5f1d',
      },
    ],
    [
      '  native: #01 pc 0000000000017a20  /system/lib64/libutils.so (android::Looper::pollOnce(int, int*, int*, void**)+112)',
      { function: 'android::Looper::pollOnce(int, int*, int*, void**)', symbolId: null },
    ],
    [
      '    #00 pc 0000b3c4  /data/app/lib/arm/libsound.so (ns::(anonymous namespace)::window(std::vector<float>&)+15)',
      { imageAddress: '0xb3c4', function: 'ns::(anonymous namespace)::window(std::vector<float>&)' },
    ],
    ['#02 pc 0000b311  /data/app/My App (beta)/libsound.so', { image: '/data/app/My App (beta)/libsound.so', function: null }],
    ['#03 pc 00000000000990a0  <unknown>', { image: null }],
    ['#04 pc 00000000001eab30', { image: null, imageAddress: '0x1eab30' }],
  ])('%s', (line, expected) =>
    expect(parseTombstoneFrame(line)).toMatchObject({ runtime: 'native', pointsAt: 'instruction', ...expected }),
  );
});

it.each([
  ['frameAt (/app/feeder.js:30:28)', parseAtFrame('    at frameAt (/app/feeder.js:30:28)')],
  ['async f (address at a.hbc:1:20)', parseAtFrame('    at async f (address at a.hbc:1:20)')],
  ['A.B.C(String s) in /a.cs:line 3', parseDotnetFrame('   at A.B.C(String s) in /a.cs:line 3')],
  ['A.B.C() in A.dll:token 0x6000001+0x2', parseDotnetFrame('   at A.B.C() in A.dll:token 0x6000001+0x2')],
  ['f (package:a/b.dart:1:2)', parseDartFrame('#0      f (package:a/b.dart:1:2)')],
  ['<asynchronous suspension>', parseDartFrame('<asynchronous suspension>')],
  ['/a/libb.so 0x10 f + 4', parseTombstoneFrame('#00 pc 00000010  /a/libb.so (f+4)')],
])('a frame is written back as %s', (text, frame) => expect(formatFrame(frame as Frame)).toBe(text));
