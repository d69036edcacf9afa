import type { NativeFrame } from '../frames.ts';

const longestLine = 4_000;

/**
 * Reads a frame of Android's unwinder, as tombstones, ANR traces and logs print it:
 * `#00 pc 000000000001a2b4  /path/base.apk!libsound.so (offset 0x1c000) (Spectrum::peak(float const*)+84) (BuildId: 12ab)`.
 *
 * The pc is the one of the image's own symbol table, and the unwinder has already moved return addresses back into the
 * call (libunwindstack, `Elf::GetRelPc` and the per-architecture adjustment), so each frame points at its instruction.
 */
export function parseTombstoneFrame(line: string): NativeFrame | null {
  if (line.length > longestLine) return null;
  const match = /^\s*(?:native: )?#(\d{1,5}) +pc +(?:0x)?([0-9a-f]{1,16})(?:\s+(.*))?$/.exec(line);
  if (!match) return null;
  let rest = (match[3] ?? '').trimEnd();
  const buildId = /\s*\(BuildId: ([0-9a-fA-F]{2,128})\)$/.exec(rest);
  if (buildId) rest = rest.slice(0, buildId.index).trimEnd();
  const { name, before } = takeFunction(rest);
  const offset = /\s*\(offset 0x([0-9a-f]{1,16})\)$/.exec(before);
  const image = (offset ? before.slice(0, offset.index) : before).trim();
  const moved = /^(.*)\+(\d{1,15})$/.exec(name ?? '');
  return nativeFrame({
    imageAddress: `0x${BigInt(`0x${match[2]}`).toString(16)}`,
    image: image === '' || image === '<unknown>' ? null : image,
    fileOffset: offset ? `0x${offset[1]}` : null,
    symbolId: buildId ? (buildId[1] as string).toLowerCase() : null,
    function: moved ? (moved[1] as string) : name,
    functionOffset: moved ? Number(moved[2]) : null,
  });
}

/** The last group of balanced parentheses is the function, which may hold parentheses itself. */
function takeFunction(text: string): { name: string | null; before: string } {
  if (!text.endsWith(')')) return { name: null, before: text };
  let depth = 0;
  for (let at = text.length - 1; at >= 0; at--) {
    if (text[at] === ')') depth++;
    else if (text[at] === '(' && --depth === 0) {
      const inner = text.slice(at + 1, -1);
      if (inner.startsWith('offset 0x') || (at > 0 && text[at - 1] !== ' ')) return { name: null, before: text };
      return { name: inner, before: text.slice(0, at).trimEnd() };
    }
  }
  return { name: null, before: text };
}

/** A frame of which only some things are known; its address is that of the instruction. */
export const nativeFrame = (known: Partial<NativeFrame>): NativeFrame => ({
  runtime: 'native',
  address: null,
  image: null,
  symbolId: null,
  imageOffset: null,
  imageAddress: null,
  fileOffset: null,
  pointsAt: 'instruction',
  function: null,
  functionOffset: null,
  file: null,
  line: null,
  inlined: false,
  ...known,
});
