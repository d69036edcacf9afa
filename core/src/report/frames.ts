import { z } from 'zod';
import { hexadecimal, name, optional } from './limits.ts';

const line = optional(z.int().min(0).max(0x7fff_ffff)).describe('From 1; null when not known.');

/** One frame of a Java virtual machine, as the program printed it: obfuscated names stay obfuscated. */
export const jvmFrameSchema = z.strictObject({
  runtime: z.literal('jvm'),
  class: name.describe('Qualified class name, nested classes after "$".'),
  method: name,
  file: optional(name).describe('The source file attribute; null when it was "Unknown Source".'),
  line,
  native: z.boolean().default(false),
  module: optional(name).describe('Class loader and module as printed, such as "java.base".'),
});
export type JvmFrame = z.infer<typeof jvmFrameSchema>;

/** One frame of machine code: where it was, and whatever the system could already say about it. */
export const nativeFrameSchema = z.strictObject({
  runtime: z.literal('native'),
  address: optional(hexadecimal).describe('In the address space of the process.'),
  image: optional(name).describe('Path or name of the executable, library or archive member the code lies in.'),
  symbolId: optional(z.string().max(200)).describe('Build id or UUID of the image, lower-case hexadecimal digits.'),
  imageOffset: optional(hexadecimal).describe('Bytes after the address at which the image was loaded.'),
  imageAddress: optional(hexadecimal).describe("Address as the image's own symbol table counts it; Android prints this one."),
  fileOffset: optional(hexadecimal).describe('Where the image begins inside an archive that it was loaded from.'),
  pointsAt: z
    .enum(['instruction', 'after-call'])
    .default('after-call')
    .describe('Whether the address is that of the instruction, or the return address behind the call.'),
  function: optional(name).describe('As the system printed it.'),
  functionOffset: optional(z.int().min(0)).describe('Bytes after the start of that function.'),
  file: optional(name),
  line,
  inlined: z.boolean().default(false).describe('Inlined into the frame that follows.'),
});
export type NativeFrame = z.infer<typeof nativeFrameSchema>;

/** One frame of a JavaScript engine. */
export const javascriptFrameSchema = z.strictObject({
  runtime: z.literal('javascript'),
  function: optional(name),
  file: optional(name).describe('Address or name of the script as printed.'),
  line,
  column: optional(z.int().min(0)).describe('As the engine printed it; for byte code the offset.'),
  bytecode: z.boolean().default(false).describe('"column" is an offset into byte code, and "line" the number of its segment.'),
  native: z.boolean().default(false),
  async: z.boolean().default(false).describe('Reached through an await, or another asynchronous step.'),
  evalOrigin: optional(name).describe('Where the code that was evaluated came from, as printed.'),
});
export type JavascriptFrame = z.infer<typeof javascriptFrameSchema>;

/** One frame of Dart: named with a library, or an address in code compiled ahead of time. */
export const dartFrameSchema = z.strictObject({
  runtime: z.literal('dart'),
  function: optional(name),
  library: optional(name).describe('Such as "package:trails/map.dart" or "dart:async/zone.dart".'),
  line,
  column: optional(z.int().min(0)).describe('From 1.'),
  address: optional(hexadecimal).describe('In the address space of the process.'),
  imageAddress: optional(hexadecimal).describe("Address as the debug file counts it, printed as 'virt'."),
  symbol: optional(name).describe('Section symbol and offset, such as "_kDartIsolateSnapshotInstructions+0x5e4ab".'),
  symbolId: optional(z.string().max(200)),
  gap: z.boolean().default(false).describe('No call, but an asynchronous gap between two stacks.'),
});
export type DartFrame = z.infer<typeof dartFrameSchema>;

/** One frame of .NET. */
export const dotnetFrameSchema = z.strictObject({
  runtime: z.literal('dotnet'),
  method: name.describe('Qualified as printed: namespace, types and method, without parameters.'),
  parameters: optional(name).describe('As printed between the parentheses.'),
  file: optional(name),
  line,
  ilOffset: optional(z.int().min(0)).describe('Byte in the intermediate language of the method.'),
  token: optional(hexadecimal).describe('Metadata token of the method.'),
  module: optional(name).describe('Assembly file, or the module version id that was printed in its place.'),
  rethrown: z.boolean().default(false).describe('The stack goes on here at an earlier place where the exception was caught and thrown on.'),
});
export type DotnetFrame = z.infer<typeof dotnetFrameSchema>;

export const frameSchema = z.discriminatedUnion('runtime', [
  jvmFrameSchema,
  nativeFrameSchema,
  javascriptFrameSchema,
  dartFrameSchema,
  dotnetFrameSchema,
]);
export type Frame = z.infer<typeof frameSchema>;
export type Runtime = Frame['runtime'];
export type FrameOf<Name extends Runtime> = Extract<Frame, { runtime: Name }>;
