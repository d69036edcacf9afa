import { demangleCpp } from './itanium/demangle-cpp.ts';
import { demangleRustLegacy } from './rust/legacy.ts';
import { demangleRust } from './rust/v0.ts';

/** A name as its source wrote it; one that cannot be demangled stays as it is. */
export const demangle = (name: string): string => demangleRustLegacy(name) ?? demangleCpp(name) ?? demangleRust(name) ?? name;

/**
 * The same without what a compiler adds to tell its copies and pieces of a function apart, such as " (.isra.0)" or
 * " (.cold)": nobody wrote that, and one function stays one in all builds.
 */
export const demangleFunction = (name: string): string =>
  demangle(name)
    .replace(/ \(\.[\w.$]+\)$/, '')
    .replace(copySuffix, '');

const copySuffix = /(?:\.(?:isra|constprop|part|cold|llvm|clone)(?:\.\d+)*)+$/;
