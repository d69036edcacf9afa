import { describe, expect, it } from 'vitest';
import { groupingContext, groupReport } from '../../grouping/group-report.ts';
import { noSymbols } from '../../symbolicate/symbol-source.ts';
import { symbolicate } from '../../symbolicate/symbolicate.ts';
import { formatFrame } from '../format-frame.ts';
import { onlyReport, problemOf } from '../testing/read-text.ts';

const chain = (text: string) =>
  onlyReport(text).exceptions.map(({ type, message, relation, parent, frames }) => [type, message, relation, parent, frames.length]);
const first = (text: string) => chain(text)[0]?.slice(0, 2);

describe('what a JavaScript engine or console says before a stack', () => {
  const frame = '    at perch (nest.js:3:7)';

  it.each([
    ['TypeError: no perch', 'TypeError', 'no perch'],
    ['Error', 'Error', null],
    ['Error: two\nlines', 'Error', 'two\nlines'],
    ['Uncaught TypeError: no perch', 'TypeError', 'no perch'],
    ['Uncaught (in promise) RangeError: too far', 'RangeError', 'too far'],
    ['Unhandled promise rejection: RangeError: too far', 'RangeError', 'too far'],
    ['Unhandled JS Exception: Invariant Violation: view', 'Invariant Violation', 'view'],
    ['JavaScript error: file:///a.js, line 3: TypeError: no perch', 'TypeError', 'no perch'],
    ['nest.js:3:7 uncaught exception: TypeError: no perch', 'TypeError', 'no perch'],
    ['Error: Uncaught (in promise): TypeError: no perch', 'TypeError', 'no perch'],
    ['TypeError [ERR_INVALID_ARG_TYPE]: The "path" argument', 'TypeError', 'The "path" argument'],
    ['TypeError: no perch, stack:', 'TypeError', 'no perch'],
    ['NestÜberError: voll', 'NestÜberError', 'voll'],
    ['(new TypeError("no perch", "nest.js", 3))', 'TypeError', 'no perch'],
    ['the nest is empty', 'thrown value', 'the nest is empty'],
    ['nest.js:3\nthrow new TypeError()\n^\n\nTypeError: no perch', 'TypeError', 'no perch'],
  ])('%j is %s', (header, type, message) => expect(first(`${header}\n${frame}`)).toEqual([type, message]));

  it.each([
    ['Uncaught 42', '42'],
    ['Uncaught (in promise) [object Object]', '[object Object]'],
    ['nest.js:3:7 uncaught exception: gone', 'gone'],
    ['Exception: gone', 'gone'],
    ['[UnhandledPromiseRejection: … rejected with the reason "gone".] {', 'gone'],
    ['nest.js:3\nthrow "gone";\n^\ngone\n(Use `node --trace-uncaught ...` to show where the exception was thrown)', 'gone'],
  ])('%j is a value that was thrown, and has no stack', (text, message) => {
    expect(chain(text)).toEqual([['thrown value', message, 'thrown', null, 0]]);
  });

  it('that nobody caught a rejection is told of the report', () => {
    const told = (header: string) => onlyReport(`${header}\n${frame}`).attributes['javascript.unhandledRejection'];
    expect([told('Uncaught (in promise) Error: a'), told('Unhandled rejection Error: a'), told('Error: a')]).toEqual([
      true,
      true,
      undefined,
    ]);
  });

  it('causes and members of an aggregate are told with whose they are', () => {
    expect(
      chain(
        [
          'AggregateError: all nests',
          '    at all (nest.js:1:1) {',
          '  [errors]: [',
          '    TypeError: first',
          '        at one (nest.js:2:1) {',
          '      [cause]: Error: deeper',
          '          at two (nest.js:3:1)',
          '    },',
          '    RangeError: second',
          '        at three (nest.js:4:1)',
          '  ]',
          '}',
        ].join('\n'),
      ),
    ).toEqual([
      ['AggregateError', 'all nests', 'thrown', null, 1],
      ['TypeError', 'first', 'cause', 0, 1],
      ['Error', 'deeper', 'cause', 1, 1],
      ['RangeError', 'second', 'suppressed', 0, 1],
    ]);
  });

  it('frames that were left out, since the cause has them too, are put back', () => {
    const stack = [
      'Error: outer',
      '    at outer (nest.js:9:1)',
      '    at shared (nest.js:5:1)',
      '    ... 2 lines matching cause stack trace ...',
      '    at main (nest.js:1:1) {',
      '  [cause]: Error: inner',
      '      at inner (nest.js:8:1)',
      '      at shared (nest.js:5:1)',
      '      at walk (nest.js:4:1)',
      '      at step (nest.js:3:1)',
      '      at main (nest.js:1:1)',
      '}',
    ];
    const names = onlyReport(stack.join('\n')).exceptions.map(({ frames }) =>
      frames.map((one) => (one.runtime === 'javascript' ? one.function : null)),
    );
    expect(names).toEqual([
      ['outer', 'shared', 'walk', 'step', 'main'],
      ['inner', 'shared', 'walk', 'step', 'main'],
    ]);
  });

  it('the components of a screen are a thread of their own', () => {
    const { threads, exceptions } = onlyReport(
      [
        'TypeError: no perch',
        frame,
        '',
        'The above error occurred in the <Nest> component:',
        '    in Nest (created by Map)',
        '    in Map',
      ].join('\n'),
    );
    expect(exceptions).toHaveLength(1);
    expect(threads.map(({ name, frames }) => [name, frames.length])).toEqual([['Component stack', 2]]);
  });
});

describe('what Dart says before a stack', () => {
  const frame = '#0      Nest.fill (package:trails/nest.dart:3:7)';

  it.each([
    ['Unhandled exception:\nFormatException: Bad number', 'FormatException', 'Bad number'],
    ['Unhandled exception:\nException: gone', 'Exception', 'gone'],
    ['Unhandled exception:\nRangeError (index): Invalid value', 'RangeError', '(index): Invalid value'],
    [
      'RangeError (length): Invalid value: Not in inclusive range 0..2: 5',
      'RangeError',
      '(length): Invalid value: Not in inclusive range 0..2: 5',
    ],
    ['Unhandled exception:\nPlatformException(busy, no camera, null, null)', 'PlatformException', '(busy, no camera, null, null)'],
    [
      'Unhandled exception:\nTimeoutException after 0:00:05.000000: Future not completed',
      'TimeoutException',
      'after 0:00:05.000000: Future not completed',
    ],
    [
      'Unhandled exception:\nClientException with SocketException: Failed host lookup, uri=x',
      'ClientException',
      'with SocketException: Failed host lookup, uri=x',
    ],
    ['Unhandled exception:\nTideException [connection error]: reef', 'TideException', '[connection error]: reef'],
    ['Unhandled exception:\nStack Overflow', 'StackOverflowError', 'Stack Overflow'],
    [
      "type 'Null' is not a subtype of type 'String' in type cast",
      'TypeError',
      "type 'Null' is not a subtype of type 'String' in type cast",
    ],
    ['some talk\nBad state: No element', 'StateError', 'Bad state: No element'],
    ['the nest is empty', 'thrown object', 'the nest is empty'],
    ["Unhandled exception:\ntype 'Null' is not a subtype of type 'int'", 'TypeError', "type 'Null' is not a subtype of type 'int'"],
    ['Unhandled exception:\nNull check operator used on a null value', 'TypeError', 'Null check operator used on a null value'],
    ['Unhandled exception:\nBad state: No element', 'StateError', 'Bad state: No element'],
    ['Unhandled exception:\nInvalid argument(s): egg', 'ArgumentError', 'Invalid argument(s): egg'],
    ['Unhandled exception:\nUnsupported operation: fly', 'UnsupportedError', 'Unsupported operation: fly'],
    [
      'Unhandled exception:\nConcurrent modification during iteration: _Set',
      'ConcurrentModificationError',
      'Concurrent modification during iteration: _Set',
    ],
    ["Unhandled exception:\n'nest.dart': Failed assertion: line 3", 'AssertionError', "'nest.dart': Failed assertion: line 3"],
    ["Unhandled exception:\nInstance of 'Egg'", 'Egg', "Instance of 'Egg'"],
    ['LateInitializationError: Field', 'LateInitializationError', 'Field'],
  ])('%j is %s', (header, type, message) => expect(first(`${header}\n${frame}`)).toEqual([type, message]));

  it('code of older runtimes is placed by the address it was loaded at', () => {
    const report = onlyReport(
      [
        'Unhandled exception:',
        'Bad state: No element',
        '*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***',
        'pid: 7, tid: 8, name 1.ui',
        'isolate_dso_base: 7000000000, vm_dso_base: 7000000000',
        '    #00 abs 0000007000012345 _kDartIsolateSnapshotInstructions+0x2345',
      ].join('\n'),
    );
    expect(report.exceptions[0]?.frames).toMatchObject([{ address: '0x7000012345', imageAddress: '0x12345', symbolId: null }]);
  });

  it('what the framework caught says by whom and while doing what', () => {
    const report = onlyReport(
      [
        '══╡ EXCEPTION CAUGHT BY WIDGETS LIBRARY ╞══════',
        'The following StateError was thrown building Nest(dirty):',
        'Bad state: No element',
        '',
        'When the exception was thrown, this was the stack:',
        frame,
        '<asynchronous suspension>',
        '#1      main (package:trails/main.dart:1:1)',
      ].join('\n'),
    );
    expect(report.exceptions).toMatchObject([{ type: 'StateError', message: 'Bad state: No element' }]);
    expect(report.exceptions[0]?.frames.map((one) => (one.runtime === 'dart' ? one.gap : null))).toEqual([false, true, false]);
    expect(report.attributes).toMatchObject({ 'dart.caughtBy': 'WIDGETS LIBRARY' });
  });

  it('code compiled ahead of time tells its build and where it was loaded', () => {
    const report = onlyReport(
      [
        'Unhandled exception:',
        'Bad state: No element',
        'Warning: This VM has been configured to produce stack traces that violate the Dart standard.',
        '*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***',
        'pid: 7, tid: 8, name 1.ui',
        'os: android, arch: arm64, comp: yes, sim: no',
        "build_id: '12ab34cd'",
        'isolate_dso_base: 7000000000, vm_dso_base: 7000000000',
        'isolate_instructions: 7000010000, vm_instructions: 7000001000',
        '    #00 abs 0000007000012345 virt 0000000000012345 _kDartIsolateSnapshotInstructions+0x2345',
      ].join('\n'),
    );
    expect(report.exceptions[0]?.frames).toMatchObject([{ address: '0x7000012345', imageAddress: '0x12345', symbolId: '12ab34cd' }]);
    expect(report.attributes).toMatchObject({
      'dart.buildId': '12ab34cd',
      'dart.isolateBase': '7000000000',
      'dart.vmInstructions': '7000001000',
    });
  });
});

describe('what .NET says before a stack', () => {
  const frame = '   at Larkfield.Survey.Store.Find(String name) in /src/Store.cs:line 12';

  it.each([
    ['Unhandled exception. System.InvalidOperationException: no plot', 'System.InvalidOperationException', 'no plot'],
    ['Unhandled Exception:\nSystem.Exception: two\nlines', 'System.Exception', 'two\nlines'],
    ['[ERROR] FATAL UNHANDLED EXCEPTION: System.IO.IOException: closed', 'System.IO.IOException', 'closed'],
    ['Larkfield.Survey.PlotException (0x80131500): full', 'Larkfield.Survey.PlotException', 'full'],
    ['PlotException', 'PlotException', null],
  ])('%j is %s', (header, type, message) => expect(first(`${header}\n${frame}`)).toEqual([type, message]));

  it('inner exceptions are told outermost first, with their stacks innermost first', () => {
    expect(
      chain(
        [
          'System.Exception: outer ---> System.IO.IOException: inner',
          frame,
          frame,
          '   --- End of inner exception stack trace ---',
          '   at Larkfield.Survey.Program.Main() in /src/Program.cs:line 3',
        ].join('\n'),
      ),
    ).toEqual([
      ['System.Exception', 'outer', 'thrown', null, 1],
      ['System.IO.IOException', 'inner', 'cause', 0, 2],
    ]);
  });
});

describe('what the JVM says before a stack', () => {
  const frame = '\tat com.larkfield.A.b(A.java:1)';

  it.each([
    ['Exception in thread "main" java.lang.Error: gone', 'java.lang.Error', 'gone'],
    ['java.lang.Error', 'java.lang.Error', null],
    ['java.lang.Error: two\nlines', 'java.lang.Error', 'two\nlines'],
    ['12:00 ERROR something\njava.lang.Error: gone', 'java.lang.Error', 'gone'],
  ])('%j is %s', (header, type, message) => expect(first(`${header}\n${frame}`)).toEqual([type, message]));

  it('suppressed exceptions and causes are told with whose they are, and what they have in common', () => {
    const text = [
      'a.B: top',
      frame,
      '\tSuppressed: a.C: closing',
      '\t\tat com.larkfield.C.close(C.java:2)',
      '\t\t... 1 more',
      '\tCaused by: a.E: why',
      '\t\t... 2 more',
      'Caused by: a.D: deep',
      '\t... 1 more',
    ];
    expect(chain(text.join('\n')).map(([type, , relation, parent]) => [type, relation, parent])).toEqual([
      ['a.B', 'thrown', null],
      ['a.D', 'cause', 0],
      ['a.C', 'suppressed', 0],
      ['a.E', 'cause', 2],
    ]);
  });

  it('no more than so many exceptions are kept, and the report says so', () => {
    const { exceptions, notes } = onlyReport(`a.B: top\n${frame}\n${'Caused by: a.C: next\n\tat a.b.C.d(C.java:1)\n'.repeat(100)}`);
    expect([exceptions.length, notes]).toEqual([64, ['only the first 64 exceptions were kept']]);
  });
});

describe('texts that only look like stacks', () => {
  it.each([
    'we met at the nest (north side)',
    'mail wren@larkfield.example: 12',
    'Error: nothing follows',
    '   at',
    '#0',
    'Caused by: rain',
  ])('%j hold no crash', (text) => {
    expect(problemOf(text)).toMatchObject({ code: 'no-crash' });
  });
});

describe('an error of a script inside an exception of its host', () => {
  const scripts = [
    ["TypeError: null is not an object (evaluating 'a.b'), js engine: hermes, stack:", 'trim@1:233\nrender@1:91\nanonymous@1:1810'],
    ['Error: several\nlines, stack:', 'trim@4128:233\nrender@4119:91\n<unknown>@35:1810'],
    [
      'RangeError: no clip',
      '    at trim (address at index.android.bundle:1:233)\n    at render (address at index.android.bundle:1:91)\n    at anonymous (address at index.android.bundle:1:1810)',
    ],
  ] as const;

  it.each(scripts)('%s decides by type, message and stack', (header, stack) => {
    const [type = '', ...words] = header.split(': ');
    const message = words.join(': ').replace(/(?:, js engine: hermes)?, stack:$/, '');
    for (const text of [
      `com.facebook.react.common.JavascriptException: ${header}\n${stack}\n\n\tat com.facebook.react.modules.core.ExceptionsManagerModule.reportException(ExceptionsManagerModule.java:72)\n\tat java.lang.reflect.Method.invoke(Native Method)\n`,
      `Exception in thread "mqt_native_modules" java.lang.RuntimeException: ${header}\n${stack}\n\tat com.larkfield.host.Bridge.fail(Bridge.java:3)\n`,
    ]) {
      const [host, script] = onlyReport(text).exceptions;
      expect(host?.frames.every((frame) => frame.runtime === 'jvm')).toBe(true);
      expect(script).toMatchObject({ type, message, relation: 'cause', parent: 0 });
      expect(script?.frames.map((frame) => frame.runtime === 'javascript' && (frame.function ?? ''))).toEqual(['trim', 'render', '']);
    }
  });
});

describe('a program of Dart that was compiled to a script', () => {
  const stack = (header: string, ...functions: string[]) =>
    onlyReport(
      `${header}\n${functions.map((name, at) => `    at ${name} (https://trails.larkfield.example/main.dart.js:${at + 1}:${at + 10})`).join('\n')}`,
    );

  it.each([
    ['Error: RangeError (index): Index out of range: 5', 'RangeError', '(index): Index out of range: 5'],
    ['Uncaught Error: Bad state: No element', 'StateError', 'Bad state: No element'],
    ["Error: Instance of 'minified:aB'", 'minified:aB', "Instance of 'minified:aB'"],
    ['RangeError (length): Invalid value: 5', 'RangeError', '(length): Invalid value: 5'],
    ['TypeError: Cannot read properties of null', 'TypeError', 'Cannot read properties of null'],
    ['Error: plain', 'Error', 'plain'],
  ])('%s is read as what Dart threw', (header, type, message) => {
    expect(stack(header, 'Object.wrapException', 'Nest.fill$0').exceptions[0]).toMatchObject({ type, message });
  });

  it('asks for its map, and what the runtime put in does not decide', () => {
    const cases = [
      stack('Error: Bad state: No element', 'Object.wrapException', 'Object.throwExpression', 'Nest.fill$0'),
      stack('Error: Bad state: No element', 'Object.wrapException', 'Object.throwExpression', 'Perch.land$1'),
    ].map((report) => {
      const readable = symbolicate(report, noSymbols, { ours: [] });
      expect(readable.needs).toEqual([{ kind: 'sourcemap', symbolId: null, name: 'main.dart.js', found: false }]);
      expect(readable.exceptions[0]?.frames.map((frame) => frame.ours)).toEqual([false, false, true]);
      return groupReport(groupingContext(report), readable).key;
    });
    expect(new Set(cases).size).toBe(2);
  });
});

describe('a stack of .NET without files', () => {
  it.each([
    ['methods without parameters', ['Larkfield.Survey.Store.Load()', 'Larkfield.Survey.Program.Main()']],
    ['parameters', ['Larkfield.Survey.Store.Load(String name)', 'Larkfield.Survey.Program.Main(String[] arguments)']],
    [
      'both',
      ['Larkfield.Survey.Store.Load()', 'Larkfield.Survey.Store..ctor(String name, Int32 count)', 'Larkfield.Survey.Program.Main()'],
    ],
    ['names that only .NET has', ['Larkfield.Survey.Cache`2.Get(TKey key)', 'Larkfield.Survey.Store.<>c.<Load>b__0()']],
  ])('with %s is none of the JVM', (_, frames) => {
    for (const header of [
      'Unhandled exception. System.InvalidOperationException: no plot',
      'System.InvalidOperationException: no plot',
      'Larkfield.Survey.PlotException: no plot',
    ]) {
      const report = onlyReport(`${header}\n${frames.map((frame) => `   at ${frame}`).join('\n')}\n`);
      expect(report.format).toBe('dotnet-stack');
      expect(report.exceptions[0]?.frames.map((frame) => frame.runtime)).toEqual(frames.map(() => 'dotnet'));
      expect(symbolicate(report, noSymbols, { ours: [] }).needs).toEqual([]);
    }
  });

  it.each(['a.b.c(Unknown Source)', 'a.b.c(Native Method)', 'a.b.c(SourceFile)', 'a.b.c(Unknown Source:12)', 'a.b.<init>(SourceFile:3)'])(
    'is not seen in %s of the JVM',
    (frame) => {
      expect(onlyReport(`java.lang.IllegalStateException: x\n\tat ${frame}\n`).format).toBe('jvm-stack');
    },
  );
});

describe('what people copy out of the consoles of browsers', () => {
  it.each([
    [
      'in brackets behind a tab',
      ['\ttrim (feeder.js:30:28)', '\t(anonymous function) (feeder.js:41:3)', '\tGlobal Code (feeder.js:55:1)'],
      ['trim (feeder.js:30:28)', 'feeder.js:41:3', 'global code (feeder.js:55:1)'],
    ],
    [
      'with an address behind a blank',
      ['    trim https://larkfield.example/feeder.js:30:28', '    <anonymous> https://larkfield.example/feeder.js:41:3'],
      ['trim (https://larkfield.example/feeder.js:30:28)', 'https://larkfield.example/feeder.js:41:3'],
    ],
    ['behind an @ between blanks', ['trim @ feeder.js:30', '(anonymous) @ feeder.js:41'], ['trim (feeder.js:30)', 'feeder.js:41']],
    [
      'the same with tabs',
      ['trim\t@\tfeeder.js?v=3:30', 'cut\t@\thttps://larkfield.example/a.js:41'],
      ['trim (feeder.js?v=3:30)', 'cut (https://larkfield.example/a.js:41)'],
    ],
  ])('%s', (_, lines, frames) => {
    for (const header of ['Uncaught TypeError: no clip', 'TypeError: no clip', 'Unhandled Promise Rejection: TypeError: no clip']) {
      const { exceptions } = onlyReport(`${header}\n${lines.join('\n')}\n`);
      expect(exceptions).toMatchObject([{ type: 'TypeError', message: 'no clip' }]);
      expect(exceptions[0]?.frames.map(formatFrame)).toEqual(frames);
    }
  });

  it('is not seen in a message', () => {
    expect(onlyReport('Error: several\n  see notes (page.html:3)\n    at trim (feeder.js:1:2)').exceptions).toMatchObject([
      { type: 'Error', message: 'several\n  see notes (page.html:3)', frames: [{ function: 'trim' }] },
    ]);
  });
});
