import { MalformedInput } from '@rough-ember/core/bytes/byte-reader';
import { sourceOf } from '@rough-ember/core/bytes/byte-source';
import { isZip, readArchive } from '@rough-ember/core/symbols/archive';
import { detectSymbolFile } from '@rough-ember/core/symbols/detect';
import { familyOf } from '@rough-ember/core/symbols/families';
import { formatOf, isMeant, type SymbolFileFormat } from '@rough-ember/core/symbols/readers';

/** A symbol file a person chose or dropped, looked at before it is sent. */
export interface ChosenFile {
  readonly key: string;
  readonly file: File;
  readonly format: SymbolFileFormat;
  /** What it is, for people. */
  readonly title: string;
  /** Only a version and build can tie it. */
  readonly needsBuild: boolean;
}

/** A file that is none, and why. */
export interface PassedOver {
  readonly name: string;
  readonly reason: string;
}

export interface Chosen {
  readonly files: readonly ChosenFile[];
  readonly passedOver: readonly PassedOver[];
}

const headBytes = 64 * 1024;
/** A larger archive would have to be unpacked into memory. */
const largestArchive = 400 << 20;

/** Looks at the first bytes of each file, and into archives; nothing is sent. In an archive, what is no symbol file is no problem. */
export async function lookAt(files: readonly File[]): Promise<Chosen> {
  const chosen: ChosenFile[] = [];
  const passedOver: PassedOver[] = [];
  for (const file of files) {
    const head = new Uint8Array(await file.slice(0, headBytes).arrayBuffer());
    if (isZip(head)) {
      try {
        const found = await lookIntoArchive(file);
        chosen.push(...found);
        if (found.length === 0) passedOver.push({ name: file.name, reason: 'There is no symbol file in this archive.' });
      } catch (error) {
        if (!(error instanceof MalformedInput)) throw error;
        passedOver.push({ name: file.name, reason: `${error.message}.` });
      }
      continue;
    }
    const detected = await detectSymbolFile(head, file.name);
    if (detected.ok) chosen.push(chosenFile(file.name, file, detected.value));
    else passedOver.push({ name: file.name, reason: detected.problem.message });
  }
  return { files: chosen, passedOver };
}

async function lookIntoArchive(archive: File): Promise<ChosenFile[]> {
  if (archive.size > largestArchive) throw new MalformedInput('the archive is too large for a page; hand it to "ember upload"', 0);
  const found: ChosenFile[] = [];
  for (const entry of await readArchive(sourceOf(new Uint8Array(await archive.arrayBuffer())))) {
    const bytes = await entry.read();
    const detected = await detectSymbolFile(bytes.subarray(0, headBytes), entry.path);
    if (!detected.ok || !(await isMeant(detected.value, entry.path, sourceOf(bytes)))) continue;
    const file = new File([bytes as BlobPart], entry.path.replace(/^.*\//, ''));
    found.push(chosenFile(`${archive.name}/${entry.path}`, file, detected.value));
  }
  return found;
}

function chosenFile(path: string, file: File, format: SymbolFileFormat): ChosenFile {
  const { title, kind } = formatOf(format);
  return { key: `${path} ${file.size}`, file, format, title, needsBuild: familyOf(kind).isOfBuild ?? false };
}
