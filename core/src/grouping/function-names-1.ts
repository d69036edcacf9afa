import type { Runtime } from '../report/frames.ts';
import type { FunctionNames } from './function-names.ts';
import { isCompilerMade, reportsTrouble, shortFunction, splitFunction, writtenFunction } from './jvm-names.ts';

const jvm: FunctionNames = {
  // Obfuscated names are told apart by the whole frame; they mean nothing beyond their build anyway.
  written: (frame) => (frame.status === 'no-symbols' ? frame.raw : writtenFunction(frame.function)),
  short: (frame) => (frame.status === 'no-symbols' ? frame.raw : shortFunction(writtenFunction(frame.function))),
  isCompilerMade: (frame) => isCompilerMade(splitFunction(frame.function).method),
  reportsTrouble: (frame) => reportsTrouble(splitFunction(frame.function).class),
};

/** "ns::Spectrum<float>::peak(float const*) const" → "ns::Spectrum::peak"; names of other languages stay. */
export function withoutArguments(name: string): string {
  // Objective-C, and code that nobody named yet.
  if (/^[-+]\[| 0x[0-9a-f]+$/.test(name)) return name;
  let depth = 0;
  let kept = '';
  for (const letter of name
    .replaceAll('(anonymous namespace)', 'anonymous')
    .replace(/\boperator(?:<<|>>|<=|>=|<|>|\(\))/g, (operator) => operator.replace(/[<>()]/g, '_'))) {
    if (letter === '<' || letter === '(') depth++;
    if (depth === 0) kept += letter;
    if ((letter === '>' || letter === ')') && depth > 0) depth--;
  }
  return (
    kept
      .trim()
      .replace(/\s+(?:const|volatile|noexcept)$/g, '')
      .replace(/^(?:static |virtual )?(?:[\w:]+[ *&]+)+(?=[\w~:]+$)/, '') || name
  );
}

const native: FunctionNames = {
  written: (frame) => withoutArguments(frame.function),
  short: (frame) => withoutArguments(frame.function).split('::').slice(-2).join('::'),
  isCompilerMade: (frame) => /^(?:@objc |thunk for |_\$s.*T[wWR]|__(?:clang|cxx)_)/.test(frame.function),
  reportsTrouble: (frame) =>
    /^_*(?:abort|raise|tgkill|pthread_kill|__pthread_kill|assert\w*|__assert\w*|fatalError|swift_\w*[fF]atal\w*|_assertionFailure|objc_exception_throw|__exceptionPreprocess|__cxa_throw|__cxa_rethrow|std::terminate|__terminate|_Unwind_\w+|malloc\w*|free|operator (?:new|delete)|scudo::\w+)\b/.test(
      frame.function,
    ),
};

const javascript: FunctionNames = {
  // Engines differ in what they put before a method ("Object.", "Clip.prototype.", "new "); the last part is common.
  written: (frame) => {
    const name = frame.function.replace(/^(?:async |new )+/, '').replace(/\/<?$/, '');
    if (frame.status === 'no-symbols' && name.includes(' ')) return name;
    const parts = name.split('.');
    // A callback without a name is known by the function it was written in.
    return (parts.at(-1) === '<anonymous>' ? parts.slice(-2).join('.') : parts.at(-1)) || frame.function;
  },
  short: (frame) => javascript.written(frame),
  isCompilerMade: (frame) =>
    /^(?:_?asyncToGenerator|asyncGeneratorStep|tryCatch|__awaiter|step|invoke|__generator|global|global code|module code|eval code)$/.test(
      frame.function,
    ),
  reportsTrouble: (frame) => /^(?:invariant|assert\w*|warning|throwError|reportError)$/.test(javascript.written(frame)),
};

const plain: FunctionNames = {
  written: (frame) => frame.function.replace(/\.?<anonymous closure>/g, '').replace(/^new /, '') || frame.function,
  short: (frame) => plain.written(frame).split('.').slice(-2).join('.'),
  isCompilerMade: () => false,
  reportsTrouble: (frame) =>
    /(?:^|\.)(?:ThrowHelper|Guard|Debug|Contract|Requires?|Assert|_AssertionError|_throw\w*)\b/.test(frame.function),
};

/** Algorithm 1, by which apps go on that have not taken a later one. */
export const functionNames1: Readonly<Record<Runtime, FunctionNames>> = { jvm, native, javascript, dart: plain, dotnet: plain };
