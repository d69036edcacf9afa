import { describe, expect, it } from 'vitest';
import { parseDartFrame } from '../report/formats/dart-stack/read.ts';
import { parseDotnetFrame } from '../report/formats/dotnet-stack/read.ts';
import { parseAtFrame } from '../report/formats/javascript-stack/frame.ts';
import { nativeFrame, parseTombstoneFrame } from '../report/formats/tombstone-frame.ts';
import type { Frame, JvmFrame } from '../report/frames.ts';
import { readAsReported } from './as-reported.ts';
import { writtenDotnetMethod } from './dotnet-names.ts';

const read = (frame: Frame | null) => readAsReported(frame as Exclude<Frame, JvmFrame>, 0, { ours: [] });

describe('whose a frame is', () => {
  it.each([
    ['/data/app/~~x==/com.larkfield.guide-y==/base.apk!libsound.so', true],
    ['/private/var/containers/Bundle/Application/9A/Guide.app/Guide', true],
    ['Guide', true],
    ['/apex/com.android.runtime/lib64/bionic/libc.so', false],
    ['/system/lib64/libutils.so', false],
    ['/data/app/x/base.apk!libc++_shared.so', false],
    ['/data/app/x/lib/arm64/libflutter.so', false],
    ['/System/Library/Frameworks/UIKit.framework/UIKit', false],
    ['/usr/lib/libobjc.A.dylib', false],
    ['CoreFoundation', false],
    ['/private/var/containers/Guide.app/Frameworks/hermes.framework/hermes', false],
    ['/data/app/x/oat/arm64/base.odex', false],
    [null, false],
  ])('%s: %s', (image, ours) => expect(read(nativeFrame({ image, function: 'f' })).ours).toBe(ours));

  it.each([
    ['    at f (index.bundle:1:2)', true],
    ['    at f (/app/node_modules/react/index.js:1:2)', false],
    ['    at f (node:internal/modules:1:2)', false],
    ['    at map (native)', false],
  ])('%s: %s', (line, ours) => expect(read(parseAtFrame(line)).ours).toBe(ours));

  it.each([
    ['#0      f (package:trails/a.dart:1:2)', true],
    ['#0      f (package:flutter/src/a.dart:1:2)', false],
    ['#0      f (dart:async/zone.dart:1:2)', false],
    ['<asynchronous suspension>', false],
  ])('%s: %s', (line, ours) => expect(read(parseDartFrame(line)).ours).toBe(ours));

  it.each([
    ['   at Larkfield.Survey.Store.Save(Plot plot)', true],
    ['   at System.Linq.Enumerable.Sum(Object o)', false],
    ['   at Microsoft.Maui.Controls.Page.Send()', false],
    ['   at Systematic.Birds.Count()', true],
  ])('%s: %s', (line, ours) => expect(read(parseDotnetFrame(line)).ours).toBe(ours));
});

describe('what is shown of a frame', () => {
  it('names code without symbols by its image and address, and says that symbols are missing if it is ours', () => {
    expect(read(parseTombstoneFrame('#00 pc 0001a2b4  /data/app/x/base.apk!libsound.so'))).toMatchObject({
      function: 'libsound.so 0x1a2b4',
      status: 'no-symbols',
    });
    expect(read(parseTombstoneFrame('#00 pc 0001a2b4  /system/lib64/libc.so'))).toMatchObject({ status: 'as-written' });
  });

  it('shows no line for byte code, whose line is the number of a segment', () => {
    expect(read(parseAtFrame('    at trim (address at a.hbc:1:588)'))).toMatchObject({
      function: 'trim',
      line: null,
      column: null,
      status: 'no-symbols',
    });
    expect(read(parseAtFrame('    at trim (a.js:12:3)'))).toMatchObject({ line: 12, column: 3, status: 'as-written' });
  });

  it.each([
    ['_callSuper', 'a.js', false],
    ['_call_super', 'a.js', false],
    ['_createClass', 'a.js', false],
    ['asyncGeneratorStep', 'a.js', false],
    ['__awaiter', 'a.js', false],
    ['__read', 'a.js', false],
    ['Object.wrapException', 'main.dart.js', false],
    // Names that people give, too.
    ['_read', 'a.js', true],
    ['_get', 'a.js', true],
    ['_name', 'a.js', true],
    ['callSuper', 'a.js', true],
    ['Object.throwIfEmpty', 'a.js', true],
    ['A.$first$last', 'a.js', true],
  ])('%s in %s is ours: %s', (name, file, ours) => {
    expect(read(parseAtFrame(`    at ${name} (${file}:1:2)`))).toMatchObject({ ours });
  });

  it.each([
    ['Larkfield.Survey.Store.<LoadAsync>d__5.MoveNext', 'Larkfield.Survey.Store.LoadAsync'],
    ['Larkfield.Survey.PlotPage.<>c__DisplayClass3_0.<<OnAppearing>b__0>d.MoveNext', 'Larkfield.Survey.PlotPage.OnAppearing'],
    ['Larkfield.Survey.Wardens.<>c.<Next>b__2_1', 'Larkfield.Survey.Wardens.Next'],
    ['Larkfield.Survey.Wardens.<Next>g__Turn|2_0', 'Larkfield.Survey.Wardens.Next.Turn'],
    ['Larkfield.Survey.Plot.<Total>m__0', 'Larkfield.Survey.Plot.Total'],
    ['Larkfield.Survey.Store+Cache`2[TKey,TValue].Get', 'Larkfield.Survey.Store.Cache.Get'],
    ['Larkfield.Survey.Broken..cctor', 'Larkfield.Survey.Broken.static constructor'],
    ['Larkfield.Survey.Plot..ctor', 'Larkfield.Survey.Plot.constructor'],
    ['Survey.Wardens.<Next>g__Turn|2_0', 'Survey.Wardens.Next.Turn'],
    ['Survey.Wardens.<>c__DisplayClass2_0.<Next>g__Turn|0', 'Survey.Wardens.Next.Turn'],
    ['Survey.Wardens.<<Next>g__Turn|2_0>d.MoveNext', 'Survey.Wardens.Next.Turn'],
    ['Survey.Wardens+<>c__DisplayClass2_0+<<Next>g__Turn|0>d.MoveNext', 'Survey.Wardens.Next.Turn'],
    ['Survey.Store.<>c.<.ctor>b__3_0', 'Survey.Store.constructor'],
    ['Survey.Store.<.ctor>g__Check|1_0', 'Survey.Store.constructor.Check'],
    ['Survey.Store.<>c.<.cctor>b__5_0', 'Survey.Store.static constructor'],
    ['Survey.Store..cctor', 'Survey.Store.static constructor'],
    ['Survey.Store:.ctor', 'Survey.Store.constructor'],
    ['Survey.Store:Load', 'Survey.Store.Load'],
    ['Survey.Cache`2[[A.B, C],[D.E, F]].Get', 'Survey.Cache.Get'],
    ['Survey.Plot+<Total>c__AnonStorey0.<>m__0', 'Survey.Plot.Total'],
    ['Survey.Walk.<Steps>d__3.<>m__Finally1', 'Survey.Walk.Steps'],
    ['Program.<Main>$', 'Program.Main'],
    ['Program.<Main>', 'Program.Main'],
    ['Survey.Form.VB$StateMachine_3_LoadAsync.MoveNext', 'Survey.Form.LoadAsync'],
    ['Survey.Store.System.IDisposable.Dispose', 'Survey.Store.System.IDisposable.Dispose'],
  ])('%s is the method %s', (printed, method) => expect(writtenDotnetMethod(printed)).toBe(method));
});
