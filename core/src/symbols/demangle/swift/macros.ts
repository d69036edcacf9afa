import { indexNode, isContext, isDeclarationName, NotSwift, node, type SwiftNode } from './node.ts';
import { type SwiftReader, wanted } from './reader.ts';

/** Expansions of macros that stand beside a declaration, by the letter behind `fM`. */
const attached: Readonly<Record<string, readonly [kind: string, words: string]>> = {
  a: ['AccessorMacroExpansion', 'accessor macro'],
  r: ['MemberAttributeMacroExpansion', 'member attribute macro'],
  m: ['MemberMacroExpansion', 'member macro'],
  p: ['PeerMacroExpansion', 'peer macro'],
  c: ['ConformanceMacroExpansion', 'conformance macro'],
  e: ['ExtensionMacroExpansion', 'extension macro'],
  b: ['BodyMacroExpansion', 'body macro'],
  q: ['PreambleMacroExpansion', 'preamble macro'],
};
const alone: Readonly<Record<string, string>> = { f: 'FreestandingMacroExpansion', u: 'MacroExpansionUniqueName' };

/** What the expansions of macros beside a declaration are called. */
export const attachedMacroWords: readonly (readonly [kind: string, words: string])[] = Object.values(attached);
export const macroExpansionKinds: readonly string[] = [
  ...Object.values(alone),
  ...attachedMacroWords.map(([kind]) => kind),
  'MacroExpansionPlace',
];

/** What stands behind `fM`: what a macro was expanded to, and where. */
export function readMacroExpansion(reader: SwiftReader): SwiftNode {
  const letter = reader.next();
  if (letter === 'X') {
    const line = indexNode('Number', reader.index());
    const column = indexNode('Number', reader.index());
    const file = reader.want('Identifier');
    return node('MacroExpansionPlace', reader.want('Identifier'), file, line, column);
  }
  const isAlone = alone[letter];
  const [kind] = isAlone === undefined ? wanted(attached[letter] ?? null, 'a macro') : [isAlone];
  const macro = reader.want('Identifier');
  const discriminator = isAlone === 'FreestandingMacroExpansion' ? reader.pop('PrivateDeclName') : null;
  const about = isAlone === undefined ? wanted(reader.popIf(isDeclarationName), 'what a macro stands beside') : null;
  const context = reader.pop(...macroExpansionKinds) ?? reader.popContext();
  const index = indexNode('Number', reader.index());
  if (!isContext(context) && !macroExpansionKinds.includes(context.kind)) throw new NotSwift('a macro of nothing');
  return node(kind, context, about ?? macro, index, ...(about ? [macro] : []), ...(discriminator ? [discriminator] : []));
}
