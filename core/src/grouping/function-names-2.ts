import type { Runtime } from '../report/frames.ts';
import type { ReadableFrame } from '../symbolicate/readable-report.ts';
import type { FunctionNames } from './function-names.ts';
import { functionNames1, withoutArguments } from './function-names-1.ts';
import { isCompilerMade, reportsTrouble, shortFunction, splitFunction, writtenFunction } from './jvm-names.ts';

/** Functions whose name says that they only check and throw; the frame that called them is the one to open. */
const namedReporter =
  /^(?:fail|die|panic|bail|raise|throw|rethrow|assert|require|ensure|invariant|unreachable|precondition|precond)(?=[A-Z_\d]|$)/;
const reportsByName = (name: string): boolean => namedReporter.test(name.replace(/^_+/, ''));

/** Default methods that a compiler moved out of their interface, for virtual machines that know none. */
const defaultsClass = /^(.*)\$(?:DefaultImpls|-CC|\$CC|-EL)$/;
const defaultsMethod = /^\$default\$/;

/** A function as it stood before its default methods were moved. */
function inInterface(name: string): string {
  const { class: declaring, method } = splitFunction(name);
  const owner = defaultsClass.exec(declaring)?.[1];
  return owner === undefined ? name : `${owner}.${method.replace(defaultsMethod, '')}`;
}

const isLambdaClass = /\$\$(?:Lambda|ExternalSynthetic|InternalSynthetic|SyntheticLambda|FastClassBy|EnhancerBy)|-\$\$Lambda\$/;
const methodOf = (frame: ReadableFrame): string => splitFunction(inInterface(frame.function)).method;

const jvm: FunctionNames = {
  // Obfuscated names are told apart by the whole frame; they mean nothing beyond their build anyway.
  written: (frame) => (frame.status === 'no-symbols' ? frame.raw : writtenFunction(inInterface(frame.function))),
  short: (frame) => (frame.status === 'no-symbols' ? frame.raw : shortFunction(writtenFunction(inInterface(frame.function)))),
  isCompilerMade: ({ function: name }) => {
    const { class: declaring, method } = splitFunction(name);
    return isCompilerMade(method) || /^accessor\$/.test(method) || isLambdaClass.test(declaring);
  },
  reportsTrouble: (frame) => reportsTrouble(splitFunction(frame.function).class) || reportsByName(methodOf(frame)),
  // What implements an interface calls its default method where that was moved out.
  forwards: (frame, callee) => defaultsClass.test(splitFunction(callee.function).class) && methodOf(frame) === methodOf(callee),
};

/** Where the body of a lambda or closure begins in the name of its function: what stands before is the function that holds it. */
const closure =
  /(?:::|\.)?(?:\$_\d+|\{lambda\(.*|\{unnamed (?:type|class|struct)[^}]*\}|'lambda\d*'.*|<lambda.*|\{\{?closure(?:#\d+)?\}?\}|\$closure\d*)(?:::.*)?$/;
const swiftClosure = /^(?:implicit )?closure #\d+ (?:\([^)]*\) )?(?:(?:async )?(?:throws )?-> \S+ )?in /;

/** "ns::sort()::$_0::operator()(int) const" → "ns::sort"; "closure #1 in Tides.load()" → "Tides.load". */
function outsideClosure(name: string): string {
  let held = name;
  for (let more = held.replace(swiftClosure, ''); more !== held; more = held.replace(swiftClosure, '')) held = more;
  return held.replace(closure, '') || name;
}

/** What calls a closure that is kept in a value of the standard library has it in its template arguments. */
const closureHolder = /^std::(?:__\w+::)?(?:_Function_handler<.*?\), (.*)>::_M_invoke|__function::__func<(.*?), std::.*>::operator\(\))\(/;

const native: FunctionNames = {
  written: (frame) => {
    const [, ofHandler, ofFunction] = closureHolder.exec(frame.function) ?? [];
    return withoutArguments(outsideClosure(ofHandler ?? ofFunction ?? frame.function));
  },
  short: (frame) => native.written(frame).split('::').slice(-2).join('::'),
  isCompilerMade: functionNames1.native.isCompilerMade,
  reportsTrouble: (frame) =>
    functionNames1.native.reportsTrouble(frame) || reportsByName(native.written(frame).split(/::|\./).at(-1) as string),
  isLibrary: ({ function: name, file }) => !closureHolder.test(name) && (libraryFile.test(file ?? '') || libraryName.test(name)),
};

/** Headers of a system or toolchain, sources of Rust's own libraries and of packages. */
const libraryFile =
  /(?:^|\/)(?:usr\/(?:lib|include)|include\/c\+\+|c\+\+\/v\d+|c\+\+\/\d+|sysroot\/usr)\/|^\/rustc\/|\/\.cargo\/registry\/|\/rustlib\/src\//;
const libraryName =
  /^(?:(?:[\w:]+[ *&]+)*(?:std|__gnu_cxx|__cxxabiv1|__1)::|(?:core|alloc)::|<(?:core|alloc|std)::|<.* as (?:core|alloc|std)::.*>::(?:call_once|call_mut|call|drop)$|(?:generic specialization <.*> of |merged )?(?:closure #\d+ .*in )?Swift\.)/;

/** The last part of a name, of which a part in brackets is one: "Rows.[Symbol.iterator]" → "[Symbol.iterator]". */
const lastPart = (name: string): string => /\[[^[\]]*(?:\[[^[\]]*\][^[\]]*)*\]$/.exec(name)?.[0] ?? name.slice(name.lastIndexOf('.') + 1);

const unnamedParts = new Set([
  '',
  '<anonymous>',
  '<static_initializer>',
  '<instance_members_initializer>',
  '(top level)',
  'anonymous',
  '?',
  'global',
  'global code',
  'module code',
  'eval code',
  'eval',
]);

/** The name a function was written with, without what engines put around it. A callback is the function it was written in. */
function scriptName({ function: name }: ReadableFrame): string {
  let written = name
    .replace(/^(?:async |new |get |set |static )+/, '')
    .replace(/ \[as [^\]]*\]$/, '')
    .replace(/(?:\/<?)+$/, '');
  while (written.endsWith('.<anonymous>')) written = written.slice(0, -'.<anonymous>'.length);
  if (written.endsWith('.<static>')) return written;
  return lastPart(written);
}

const javascript: FunctionNames = {
  written: (frame) =>
    frame.status === 'no-symbols' && frame.function.includes(' ') ? frame.function : scriptName(frame) || frame.function,
  short: (frame) => javascript.written(frame),
  isCompilerMade: functionNames1.javascript.isCompilerMade,
  reportsTrouble: (frame) => functionNames1.javascript.reportsTrouble(frame) || reportsByName(scriptName(frame)),
  isUnnamed: (frame) => unnamedParts.has(scriptName(frame)),
};

const managed = (names: FunctionNames): FunctionNames => ({
  ...names,
  reportsTrouble: (frame) => names.reportsTrouble(frame) || reportsByName(lastPart(names.written(frame)).replace(/^[A-Z]/, lower)),
});
const lower = (letter: string): string => letter.toLowerCase();

/**
 * Algorithm 2: what compilers, optimisers and engines do to a function leaves its name, so that one cause is one case over all
 * builds of a program.
 */
export const functionNames2: Readonly<Record<Runtime, FunctionNames>> = {
  jvm,
  native,
  javascript,
  dart: managed(functionNames1.dart),
  dotnet: managed(functionNames1.dotnet),
};
