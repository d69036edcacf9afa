/** What a file looks like from its first bytes, in words for a refusal such as "this looks like a ZIP archive". */
export function describeFile(head: Uint8Array): string {
  if (head.length === 0) return 'an empty file';
  for (const { bytes, looksLike } of signatures) if (bytes.every((byte, index) => head[index] === byte)) return looksLike;
  const sample = head.subarray(0, 4096);
  if (sample.some((byte) => byte < 9 || (byte > 13 && byte < 32 && byte !== 27))) return 'a binary file of unknown kind';
  const text = new TextDecoder().decode(sample).trimStart();
  if (text === '') return 'an empty text';
  if (/^\{/.test(text)) return /"mappings"|"sections"/.test(text) ? 'a source map (JSON)' : 'a JSON document';
  if (/^<(!doctype|html)/i.test(text)) return 'an HTML page, perhaps a sign-in or error page of a download';
  if (text.startsWith('<')) return 'an XML document';
  if (/^\s+at .+\(.*\)|^Exception in thread/m.test(text)) return 'a stack trace, not a file that symbolicates one';
  return 'a plain text of another kind';
}

const ascii = (text: string) => [...text].map((letter) => letter.charCodeAt(0));
const signatures: readonly { bytes: readonly number[]; looksLike: string }[] = [
  { bytes: [0x7f, ...ascii('ELF')], looksLike: 'an ELF file (a native library or its debug information)' },
  { bytes: ascii('PK\x03\x04'), looksLike: 'a ZIP archive (or an APK, AAB or JAR)' },
  { bytes: [0x1f, 0x8b], looksLike: 'a gzip file' },
  { bytes: [0xca, 0xfe, 0xba, 0xbe], looksLike: 'a Java class file or a universal Mach-O file' },
  { bytes: [0xcf, 0xfa, 0xed, 0xfe], looksLike: 'a 64-bit Mach-O file' },
  { bytes: [0xce, 0xfa, 0xed, 0xfe], looksLike: 'a 32-bit Mach-O file' },
  { bytes: ascii('BSJB'), looksLike: 'a portable PDB' },
  { bytes: ascii('dex\n'), looksLike: 'a DEX file' },
  { bytes: [0x89, ...ascii('PNG')], looksLike: 'a PNG picture' },
  { bytes: ascii('%PDF'), looksLike: 'a PDF document' },
  { bytes: ascii('EMBERSYM'), looksLike: 'a symbol index; upload the original file instead' },
];
