import { derivativePrinters } from './autodiff.ts';
import { NotSwift, type SwiftNode } from './node.ts';
import { readOldSymbol } from './old-thunks.ts';
import { entityPrinters } from './print-entities.ts';
import { thunkPrinters } from './print-thunks.ts';
import { typePrinters } from './print-types.ts';
import { type SwiftForm, SwiftPrinter } from './printer.ts';
import { readSymbol } from './read-symbol.ts';
import { SwiftReader } from './reader.ts';

const maximumLetters = 32 * 1024;
const kinds = new Map([...typePrinters, ...entityPrinters, ...thunkPrinters, ...derivativePrinters]);

/**
 * A Swift name in the words of its source, of today's mangling (4.0 on) or the one before; null when the name is none. In full it is what the compiler's own
 * demangler prints; short it is what crash reports print, without modules, types and private discriminators.
 * Swift ABI, "Mangling": docs/ABI/Mangling.rst of the compiler.
 *
 * @example demangleSwift('$s5Guide11NestBoxMapC3pin2atySi_tF', 'short') === 'NestBoxMap.pin(at:)'
 */
export const demangleSwift = (name: string, form: SwiftForm): string | null => demangleWithin(name, form, 0);

/** Names stand within names where a function was specialized for another; deeper than this they stay as they are. */
const deepestName = 4;

function demangleWithin(name: string, form: SwiftForm, depth: number): string | null {
  const prefix = /^(?:_?(?:\$[sSe]|_T)|@__swiftmacro_)/.exec(name)?.[0];
  if (prefix === undefined || name.length > maximumLetters) return null;
  try {
    const printer = new SwiftPrinter(form, kinds);
    for (const part of read(name, prefix, depth)) printer.print(part);
    // What forwards to nothing that has a name.
    return printer.text.replace(/^partial apply forwarder for (?= with|$)/, 'partial apply forwarder') || null;
  } catch (error) {
    if (error instanceof NotSwift) return null;
    throw error;
  }
}

function read(name: string, prefix: string, depth: number): readonly SwiftNode[] {
  const rest = name.slice(prefix.length);
  if (prefix.endsWith('T') && !rest.startsWith('0')) {
    return readOldSymbol(rest, (named) => (depth < deepestName ? demangleWithin(named, 'full', depth + 1) : null));
  }
  const symbol = readSymbol(new SwiftReader(prefix.endsWith('T') ? rest.slice(1) : rest, prefix.endsWith('T')));
  return [...symbol.attributes, ...symbol.parts];
}
