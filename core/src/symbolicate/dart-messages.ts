import type { ObfuscationMapIndex } from '../symbols/obfuscation-map/obfuscation-map.ts';

const dartType = /(?<![\w$])[A-Za-z_$][\w$]*(?![\w$])/g;

/** Restores type names that Dart wrote into a message, which it puts in quotes. */
export const restoreDartMessage = (message: string, map: ObfuscationMapIndex): string =>
  message.replace(/'([^'\n]{1,400})'/g, (_, quoted: string) => `'${restoreDartTypes(quoted, map)}'`);

/** Restores every name in a Dart type such as `Map<aB, cD>`. */
export const restoreDartTypes = (type: string, map: ObfuscationMapIndex): string =>
  type.replace(dartType, (printed) => map.original(printed) ?? printed);

/** Whether a text looks as if Dart's compiler had renamed a type in it: quoted names of at most three letters. */
export const namesObfuscatedType = (message: string): boolean => /'(?:[^'\n]*[\s<,])?[A-Za-z]{1,3}(?:[<>,\s][^'\n]*)?'/.test(message);
