import type { ByteSource } from '../../bytes/byte-source.ts';
import { failure, type Result, success } from '../../result.ts';

/** Names that scripts have: of the web, and of bundles for apps. */
export const isScriptName = (fileName: string): boolean => /\.(?:[cm]?js|jsbundle|bundle)$/i.test(fileName);

const mark = 'sourceMappingURL=';
const begin = new TextEncoder().encode(`${mark}data:`);
const stepBytes = 1 << 20;

/** Whether a script holds its source map; reads it in steps. */
export async function holdsMap(source: ByteSource): Promise<boolean> {
  for (let at = 0; at < source.sizeBytes; at += stepBytes) {
    const part = await source.read(at, Math.min(stepBytes + begin.length, source.sizeBytes - at));
    if (indexOf(part, begin) >= 0) return true;
  }
  return false;
}

function indexOf(bytes: Uint8Array, wanted: Uint8Array): number {
  for (let at = bytes.indexOf(wanted[0] as number); at >= 0; at = bytes.indexOf(wanted[0] as number, at + 1))
    if (wanted.every((byte, index) => bytes[at + index] === byte)) return at;
  return -1;
}

/**
 * The source map that a script holds in the data: URL of its last `//# sourceMappingURL=` comment (ECMA-426 section 11.1.2, RFC 2397),
 * as bytes.
 */
export function mapInside(script: Uint8Array): Result<Uint8Array, 'no-map-inside'> {
  const text = new TextDecoder().decode(script);
  const at = Math.max(text.lastIndexOf(`//# ${mark}`), text.lastIndexOf(`//@ ${mark}`));
  const address = at < 0 ? '' : (/^\S*/.exec(text.slice(at + 4 + mark.length))?.[0] ?? '');
  if (!address.startsWith('data:'))
    return failure(
      'no-map-inside',
      address === ''
        ? 'the script holds no source map, and names none; build it with source maps and send the .map file'
        : `the script holds no source map; it says that its map is in "${address.slice(0, 200)}": send that file`,
    );
  const comma = address.indexOf(',');
  const [head, body] = [address.slice(0, comma), address.slice(comma + 1)];
  try {
    if (!/;\s*base64$/i.test(head)) return success(new TextEncoder().encode(decodeURIComponent(body)));
    return success(Uint8Array.from(atob(decodeURIComponent(body)), (letter) => letter.charCodeAt(0)));
  } catch {
    return failure('no-map-inside', 'the data: URL that holds the source map of the script is damaged');
  }
}
