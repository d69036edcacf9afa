import { NotSwift, node, type SwiftNode, textNode } from './node.ts';
import type { Print, SwiftPrinter } from './printer.ts';
import { type SwiftReader, wanted } from './reader.ts';

/** What is derived of a function: Swift, "Differentiable Programming Manifesto". */
const functionKinds: Readonly<Record<string, string>> = {
  f: 'forward-mode derivative',
  r: 'reverse-mode derivative',
  d: 'differential',
  p: 'pullback',
};
const witnessKinds: Readonly<Record<string, string>> = { f: 'forward-mode', r: 'reverse-mode', d: 'normal', l: 'linear' };

const kindOf = (reader: SwiftReader, kinds: Readonly<Record<string, string>>): SwiftNode =>
  textNode('DerivativeKind', wanted(kinds[reader.next()] ?? null, 'a derivative'));

/** `SUS`: the first and the third of three. */
function readIndexSubset(reader: SwiftReader): SwiftNode {
  const marked: number[] = [];
  let at = 0;
  for (; /[SU]/.test(reader.peek()); at++) if (reader.next() === 'S') marked.push(at);
  if (at === 0) throw new NotSwift('no parameters');
  return textNode('IndexSubset', `{${marked.join(', ')}}`);
}

/** The parameters and results that something is derived by, each closed by a letter. */
function readSubsets(reader: SwiftReader, ends: string): SwiftNode[] {
  return [...ends].map((end) => {
    const subset = readIndexSubset(reader);
    if (!reader.takes(end)) throw new NotSwift('a list of parameters is not closed');
    return subset;
  });
}

/** Everything that waits on the stack, in the order it was written. */
function popAll(reader: SwiftReader): SwiftNode[] {
  const all: SwiftNode[] = [];
  for (let one = reader.pop(); one; one = reader.pop()) all.push(one);
  return all.reverse();
}

/** What stands behind `TJ`: derivatives of functions, and thunks between them. */
export function readDerivative(reader: SwiftReader): SwiftNode {
  if (reader.takes('S')) {
    const about = popAll(reader);
    const kind = kindOf(reader, functionKinds);
    return node('DerivativeSubsetThunk', node('Parts', ...about), kind, ...readSubsets(reader, 'prP'));
  }
  if (reader.takes('O')) {
    const signature = reader.pop('DependentGenericSignature');
    const to = reader.want('Type');
    const from = reader.want('Type');
    return node('DerivativeReorderingThunk', from, to, kindOf(reader, functionKinds), ...(signature ? [signature] : []));
  }
  const isOfVTable = reader.takes('V');
  const about = popAll(reader);
  const kind = kindOf(reader, functionKinds);
  return node(isOfVTable ? 'DerivativeVTableThunk' : 'Derivative', node('Parts', ...about), kind, ...readSubsets(reader, 'pr'));
}

/** What stands behind `WJ`: the record that says how to derive a function. */
export function readDifferentiabilityWitness(reader: SwiftReader): SwiftNode {
  const about = popAll(reader);
  const kind = kindOf(reader, witnessKinds);
  return node('DifferentiabilityWitness', node('Parts', ...about), kind, ...readSubsets(reader, 'pr'));
}

/** The parts but for a generic signature at their end, which is printed behind everything. */
function split(parts: SwiftNode | undefined): { readonly about: readonly SwiftNode[]; readonly signature: SwiftNode | undefined } {
  const all = parts?.children ?? [];
  const last = all.at(-1);
  return last?.kind === 'DependentGenericSignature' ? { about: all.slice(0, -1), signature: last } : { about: all, signature: undefined };
}

function withRespectTo(printer: SwiftPrinter, parameters: SwiftNode | undefined, results: SwiftNode | undefined): void {
  printer.add(' with respect to parameters ').print(parameters).add(' and results ').print(results);
}

const printDerivative =
  (before: string, between: string): Print =>
  (printer, { children }) => {
    const [parts, kind, parameters, results] = children;
    const { about, signature } = split(parts);
    printer.add(before).print(kind).add(between).list(about, '');
    if (printer.isShort) return;
    withRespectTo(printer, parameters, results);
    if (signature) printer.add(' with ').print(signature);
  };

/** How derivatives print. */
export const derivativePrinters: readonly (readonly [string, Print])[] = [
  ['DerivativeKind', (printer, { text }) => void printer.add(text)],
  ['IndexSubset', (printer, { text }) => void printer.add(text)],
  ['Derivative', printDerivative('', ' of ')],
  ['DerivativeVTableThunk', printDerivative('vtable thunk for ', ' of ')],
  ['DifferentiabilityWitness', printDerivative('', ' differentiability witness for ')],
  [
    'DerivativeSubsetThunk',
    (printer, { children }) => {
      const [parts, kind, parameters, results, to] = children;
      const about = parts?.children ?? [];
      printer.add('autodiff subset parameters thunk for ').print(kind).add(' from ');
      printer.list(about.length > 1 ? about.slice(0, -1) : about, '');
      if (printer.isShort) return;
      withRespectTo(printer, parameters, results);
      printer.add(' to parameters ').print(to);
      if (about.length > 1) printer.add(' of type ').print(about.at(-1));
    },
  ],
  [
    'DerivativeReorderingThunk',
    (printer, { children }) => {
      const [from, to, kind, signature] = children;
      printer.add('autodiff self-reordering reabstraction thunk for ');
      if (printer.isShort) return void printer.print(from);
      printer.print(kind);
      if (signature) printer.add(' ').print(signature);
      printer.add(' from ').print(from).add(' to ').print(to);
    },
  ],
];
