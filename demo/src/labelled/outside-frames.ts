import type { Frame } from '@rough-ember/core/report/frames';
import { nativeFrame, scriptFrame } from './program-build.ts';

const jvm = (name: string, line: number): Frame => ({
  runtime: 'jvm',
  class: name.slice(0, name.lastIndexOf('.')),
  method: name.slice(name.lastIndexOf('.') + 1),
  module: null,
  file: `${name.split('.').at(-2)}.java`,
  line,
  native: false,
});
const native = (image: string, name: string | null) => nativeFrame(0x4_0000, { name: image, symbolId: null, function: name });
const dart = (library: string, name: string): Frame => ({
  runtime: 'dart',
  function: name,
  library,
  line: 100,
  column: 1,
  address: null,
  imageAddress: null,
  symbol: null,
  symbolId: null,
  gap: false,
});
const dotnet = (method: string): Frame => ({
  runtime: 'dotnet',
  method,
  parameters: null,
  file: null,
  line: null,
  ilOffset: 12,
  token: null,
  module: null,
  rethrown: false,
});

/** What the system puts around our code: above what failed, between our frames, and below them; one of each per system version. */
export interface SystemFrames {
  readonly name: string;
  readonly version: string;
  readonly above: readonly Frame[];
  readonly between: readonly Frame[];
  readonly below: readonly Frame[];
}

/** The same systems in several versions, whose own frames differ. */
export const systems: Readonly<Record<Frame['runtime'], readonly SystemFrames[]>> = {
  jvm: [
    {
      name: 'Android',
      version: '11',
      above: [jvm('java.util.ArrayList.get', 437)],
      between: [jvm('java.util.ArrayList.forEach', 1262)],
      below: [
        jvm('android.os.Handler.handleCallback', 938),
        jvm('android.os.Looper.loop', 223),
        jvm('android.app.ActivityThread.main', 7656),
      ],
    },
    {
      name: 'Android',
      version: '13',
      above: [
        jvm('jdk.internal.util.Preconditions.outOfBounds', 64),
        jvm('java.util.Objects.checkIndex', 359),
        jvm('java.util.ArrayList.get', 434),
      ],
      between: [jvm('java.util.ArrayList.forEach', 1264)],
      below: [
        jvm('android.os.Handler.handleCallback', 942),
        jvm('android.os.Looper.loopOnce', 201),
        jvm('android.os.Looper.loop', 288),
        jvm('android.app.ActivityThread.main', 7872),
      ],
    },
    {
      name: 'Android',
      version: '15',
      above: [jvm('java.util.ArrayList.get', 426)],
      between: [jvm('java.util.stream.ForEachOps$ForEachOp$OfRef.accept', 183), jvm('java.util.stream.ReferencePipeline$3$1.accept', 197)],
      below: [
        jvm('android.os.Looper.loopOnce', 230),
        jvm('android.os.Looper.loop', 317),
        jvm('com.android.internal.os.ZygoteInit.main', 878),
      ],
    },
  ],
  native: [
    {
      name: 'Android',
      version: '12',
      above: [native('/apex/com.android.runtime/lib64/bionic/libc.so', 'abort')],
      between: [],
      below: [native('/apex/com.android.art/lib64/libart.so', 'art_quick_generic_jni_trampoline')],
    },
    {
      name: 'Android',
      version: '14',
      above: [
        native('/apex/com.android.runtime/lib64/bionic/libc.so', '__fortify_fatal'),
        native('/apex/com.android.runtime/lib64/bionic/libc.so', 'abort'),
      ],
      between: [],
      below: [native('/apex/com.android.art/lib64/libart.so', 'nterp_helper'), native('/apex/com.android.art/lib64/libart.so', null)],
    },
    {
      name: 'iOS',
      version: '17.4',
      above: [native('/usr/lib/system/libsystem_kernel.dylib', '__pthread_kill')],
      between: [],
      below: [native('/System/Library/Frameworks/UIKitCore.framework/UIKitCore', 'UIApplicationMain')],
    },
  ],
  javascript: [
    {
      name: 'Android',
      version: '13',
      above: [],
      between: [scriptFrame('', 0, { function: 'map', native: true })],
      below: [scriptFrame('', 0, { function: 'callFunctionReturnFlushedQueue', native: true })],
    },
    {
      name: 'iOS',
      version: '17.4',
      above: [scriptFrame('', 0, { function: 'toFixed', native: true })],
      between: [scriptFrame('', 0, { function: 'forEach', native: true })],
      below: [],
    },
  ],
  dart: [
    { name: 'Android', version: '13', above: [], between: [], below: [] },
    { name: 'iOS', version: '17.4', above: [dart('dart:core-patch/array.dart', 'List.[]')], between: [], below: [] },
  ],
  dotnet: [
    {
      name: 'Android',
      version: '13',
      above: [dotnet('System.Collections.Generic.Dictionary`2[TKey,TValue].get_Item')],
      between: [],
      below: [dotnet('Android.Views.View+IOnClickListenerInvoker.n_OnClick')],
    },
    {
      name: 'Android',
      version: '15',
      above: [dotnet('System.ThrowHelper.ThrowKeyNotFoundException'), dotnet('System.Collections.Generic.Dictionary`2.get_Item')],
      between: [dotnet('System.Runtime.CompilerServices.TaskAwaiter.GetResult')],
      below: [],
    },
  ],
};

/** What is thrown, as each runtime names it, with a message that varies. */
export const thrown: Readonly<Record<Frame['runtime'], readonly { readonly type: string; readonly message: string }[]>> = {
  jvm: [
    { type: 'java.lang.IllegalStateException', message: 'no tile # at zoom #' },
    { type: 'java.lang.NullPointerException', message: 'tile must not be null' },
    { type: 'java.lang.IndexOutOfBoundsException', message: 'Index: #, Size: #' },
    { type: 'java.io.EOFException', message: 'unexpected end of stream after # bytes' },
  ],
  native: [
    { type: 'SIGSEGV (SEGV_MAPERR)', message: 'fault addr 0x@' },
    { type: 'SIGABRT', message: 'assertion "length > #" failed' },
    { type: 'SIGTRAP (TRAP_BRKPT)', message: 'at 0x@' },
  ],
  javascript: [
    { type: 'TypeError', message: "Cannot read property 'path' of undefined" },
    { type: 'RangeError', message: 'no plan for # kinds of birds' },
    { type: 'Error', message: 'clip @ is gone' },
  ],
  dart: [
    { type: 'StateError', message: 'Bad state: No element' },
    { type: 'RangeError', message: 'Invalid value: Not in inclusive range 0..#: #' },
    { type: 'FormatException', message: 'Unexpected character (at character #)' },
  ],
  dotnet: [
    { type: 'System.Collections.Generic.KeyNotFoundException', message: "The given key 'plot #' was not present in the dictionary." },
    { type: 'System.NullReferenceException', message: 'Object reference not set to an instance of an object' },
    { type: 'System.InvalidOperationException', message: 'the plot # could not be saved' },
  ],
};
