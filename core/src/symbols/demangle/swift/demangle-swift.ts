import { NotSwift, node, type SwiftNode } from './node.ts';
import { OldReader } from './old-mangling.ts';
import { entityPrinters } from './print-entities.ts';
import { thunkPrinters } from './print-thunks.ts';
import { typePrinters } from './print-types.ts';
import { type SwiftForm, SwiftPrinter } from './printer.ts';
import { readSymbol } from './read-symbol.ts';
import { SwiftReader } from './reader.ts';

const maximumLetters = 32 * 1024;
const kinds = new Map([...typePrinters, ...entityPrinters, ...thunkPrinters]);

/**
 * A Swift name in the words of its source, of today's mangling (4.0 on) or the one before; null when the name is none. In full it is what the compiler's own
 * demangler prints; short it is what crash reports print, without modules, types and private discriminators.
 * Swift ABI, "Mangling": docs/ABI/Mangling.rst of the compiler.
 *
 * @example demangleSwift('$s5Guide11NestBoxMapC3pin2atySi_tF', 'short') === 'NestBoxMap.pin(at:)'
 */
export function demangleSwift(name: string, form: SwiftForm): string | null {
  const prefix = /^_?(?:\$[sSe]|_T)/.exec(name)?.[0];
  if (prefix === undefined || name.length > maximumLetters) return null;
  try {
    const printer = new SwiftPrinter(form, kinds);
    for (const part of read(name, prefix)) printer.print(part);
    return printer.text === '' ? null : printer.text;
  } catch (error) {
    if (error instanceof NotSwift) return null;
    throw error;
  }
}

function read(name: string, prefix: string): readonly SwiftNode[] {
  const rest = name.slice(prefix.length);
  if (prefix.endsWith('T') && !rest.startsWith('0')) {
    const isThunk = rest.startsWith('To');
    const entity = new OldReader(isThunk ? rest.slice(2) : rest).symbol();
    return isThunk ? [node('ObjCAttribute'), entity] : [entity];
  }
  const symbol = readSymbol(new SwiftReader(prefix.endsWith('T') ? rest.slice(1) : rest, prefix.endsWith('T')));
  return [...symbol.attributes, ...symbol.parts];
}
