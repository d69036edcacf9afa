import { NotSwift } from './node.ts';
import { entityPrinters } from './print-entities.ts';
import { thunkPrinters } from './print-thunks.ts';
import { typePrinters } from './print-types.ts';
import { type SwiftForm, SwiftPrinter } from './printer.ts';
import { readSymbol } from './read-symbol.ts';
import { SwiftReader } from './reader.ts';

const maximumLetters = 32 * 1024;
const kinds = new Map([...typePrinters, ...entityPrinters, ...thunkPrinters]);

/**
 * A Swift name (4.0 on) in the words of its source; null when the name is none. In full it is what the compiler's own
 * demangler prints; short it is what crash reports print, without modules, types and private discriminators.
 * Swift ABI, "Mangling": docs/ABI/Mangling.rst of the compiler.
 *
 * @example demangleSwift('$s5Guide11NestBoxMapC3pin2atySi_tF', 'short') === 'NestBoxMap.pin(at:)'
 */
export function demangleSwift(name: string, form: SwiftForm): string | null {
  if (name.startsWith('_Tt')) return readRuntimeName(name);
  const prefix = /^_?(?:\$[sSe]|_T0)/.exec(name)?.[0];
  if (prefix === undefined || name.length > maximumLetters) return null;
  try {
    const symbol = readSymbol(new SwiftReader(name.slice(prefix.length), prefix.endsWith('_T0')));
    const printer = new SwiftPrinter(form, kinds);
    for (const part of [...symbol.attributes, ...symbol.parts]) printer.print(part);
    return printer.text === '' ? null : printer.text;
  } catch (error) {
    if (error instanceof NotSwift) return null;
    throw error;
  }
}

/** A class as the Objective-C runtime knows it: `_Tt`, a letter for each type it is nested in, then module and names. */
function readRuntimeName(name: string): string | null {
  const match = /^_Tt([CVOP]+)(\d.*)$/.exec(name);
  if (!match) return null;
  const [, nesting = '', rest = ''] = match;
  const parts: string[] = [];
  let at = 0;
  while (at < rest.length) {
    const digits = /^\d{1,5}/.exec(rest.slice(at))?.[0];
    if (digits === undefined || at + digits.length + Number(digits) > rest.length) return null;
    at += digits.length;
    parts.push(rest.slice(at, at + Number(digits)));
    at += Number(digits);
  }
  return parts.length === nesting.length + 1 ? parts.join('.') : null;
}
