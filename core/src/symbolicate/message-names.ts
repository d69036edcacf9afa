import type { ObfuscationMapIndex } from '../symbols/dart/obfuscation-map.ts';
import type { MappingIndex } from '../symbols/mapping/lookup.ts';

const name = String.raw`[A-Za-z_$][\w$]*`;
const qualified = new RegExp(String.raw`(?<![\w.$/@:-])${name}(?:\.${name})+(?:\[\])*(?![\w$@]|/|:\d)`, 'g');
/** Phrases of the runtime in which a word on its own is a class, whatever else the word may mean. */
const castMessage = new RegExp(String.raw`^((?:class )?)(${name}(?:\.${name})*)( cannot be cast to (?:class )?)(${name}(?:\.${name})*)`);
const memberPhrase = new RegExp(
  String.raw`((?:virtual|interface|direct|static|super) method|(?:read from|write to) field) '((?:[^'(\s]+ )?)(${name}(?:\.${name})*)\.(${name}|<init>)((?:\([^']*\))?)'`,
);

/**
 * Restores class names that a JVM wrote into a message. A name with dots is a class if the mapping says so; a word without
 * is one only where the runtime's own phrase says that a class stands there, since "a" is a word too.
 * `cause` is the class of the exception that caused this one, as printed: `new RuntimeException(cause)` copies its header
 * into the message.
 */
export function restoreMessage(message: string, mapping: MappingIndex, cause: string | null): string {
  const classOf = (printed: string): string => mapping.className(printed) ?? printed;
  if (cause !== null && (message === cause || message.startsWith(`${cause}: `)))
    return classOf(cause) + restoreMessage(message.slice(cause.length), mapping, null);
  const cast = castMessage.exec(message);
  const start = cast ? `${cast[1]}${classOf(cast[2] as string)}${cast[3]}${classOf(cast[4] as string)}` : '';
  return (
    start +
    message
      .slice(cast?.[0].length ?? 0)
      .replace(memberPhrase, (_, phrase: string, result: string, owner: string, member: string, parameters: string) => {
        const types = parameters === '' ? '' : `(${parameters.slice(1, -1).split(', ').map(classOf).join(', ')})`;
        return `${phrase} '${result === '' ? '' : `${classOf(result.trim())} `}${classOf(owner)}.${methodOf(owner, member, mapping)}${types}'`;
      })
      .replace(qualified, (printed) => {
        const plain = printed.replace(/(?:\[\])*$/, '');
        return classOf(plain) + printed.slice(plain.length);
      })
  );
}

/** The method that a name means in its class; a name that several methods share stays. */
function methodOf(owner: string, method: string, mapping: MappingIndex): string {
  const match = mapping.retrace(owner, method, null);
  if (match.state !== 'found') return method;
  const names = new Set(match.alternatives.map((frames) => frames.at(-1)?.method));
  const [only] = names;
  return names.size === 1 && only !== undefined ? only : method;
}

const dartType = /(?<![\w$])[A-Za-z_$][\w$]*(?![\w$])/g;

/** Restores type names that Dart wrote into a message, which it puts in quotes. */
export const restoreDartMessage = (message: string, map: ObfuscationMapIndex): string =>
  message.replace(/'([^'\n]{1,400})'/g, (_, quoted: string) => `'${restoreDartTypes(quoted, map)}'`);

/** Restores every name in a Dart type such as `Map<aB, cD>`. */
export const restoreDartTypes = (type: string, map: ObfuscationMapIndex): string =>
  type.replace(dartType, (printed) => map.original(printed) ?? printed);

/** Whether a text looks as if Dart's compiler had renamed a type in it: quoted names of at most three letters. */
export const namesObfuscatedType = (message: string): boolean => /'(?:[^'\n]*[\s<,])?[A-Za-z]{1,3}(?:[<>,\s][^'\n]*)?'/.test(message);
