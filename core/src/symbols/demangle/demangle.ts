import { demangleCpp } from './itanium/demangle-cpp.ts';
import { demangleRustLegacy } from './rust/legacy.ts';
import { demangleRust } from './rust/v0.ts';
import { demangleSwift } from './swift/demangle-swift.ts';

/** A name as its source wrote it; one that cannot be demangled stays as it is. */
export const demangle = (name: string): string =>
  demangleRustLegacy(name) ?? demangleCpp(name) ?? demangleRust(name) ?? demangleSwift(name, 'full') ?? name;

/**
 * The same as a stack shows it: without what a compiler adds to tell its copies and pieces of a function apart, such as
 * " (.isra.0)" or " (.cold)", as nobody wrote that, and one function stays one in all builds. Swift names take their short
 * form, in which its own crash reports print them.
 */
export const demangleFunction = (name: string): string =>
  (demangleSwift(name, 'short') ?? (/^[-+]\[/.test(name) ? withRuntimeNames(name) : demangle(name)))
    .replace(/ \(\.[\w.$]+\)$/, '')
    .replace(copySuffix, '');

/** A text of the Objective-C runtime, in which classes of Swift stand with the names that the runtime knows them by. */
export const withRuntimeNames = (text: string): string =>
  text.replace(/(?<![\w$])_Tt[CVOPG]\w{2,1000}/g, (name) => demangleSwift(name, 'full') ?? name);

const copySuffix = /(?:\.(?:isra|constprop|part|cold|llvm|clone)(?:\.\d+)*)+$/;
