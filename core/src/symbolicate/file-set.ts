import { familyOf, type SymbolFileKind } from '../symbols/families.ts';
import type { SymbolIndex } from '../symbols/open-index.ts';
import { isWantedId } from '../symbols/symbol-id.ts';
import { type SymbolSource, type SymbolTie, sourceFrom } from './symbol-source.ts';

/** A symbol index with what ties it to a build. */
export interface TiedFile {
  readonly kind: SymbolFileKind;
  readonly symbolId: string | null;
  /** Name of the image or script it is for; null when any name will do. */
  readonly name: string | null;
  /** It is of the report's own version and build, so that a name alone may tie it. */
  readonly isOfBuild: boolean;
}

/**
 * Chooses among symbol files: the one with the wanted id; for a frame without id one of the report's own build, by the
 * name of its image or script. Of several that fit, the first. A frame with an id never takes a file with another.
 */
export function chooseFile<File extends TiedFile>(
  files: readonly File[],
  kind: SymbolFileKind,
  { symbolId, name }: SymbolTie,
): File | null {
  const candidates = files.filter((file) => file.kind === kind);
  if (symbolId !== null) {
    const wanted = candidates.find((file) => file.symbolId !== null && isWantedId(kind, symbolId, file.symbolId));
    // The id of such a file stands in its head, which somebody may have taken off.
    return wanted ?? (familyOf(kind).mayLoseId ? candidates.find((file) => file.symbolId === null && file.isOfBuild) : undefined) ?? null;
  }
  return candidates.find((file) => file.isOfBuild && fits(file, name, candidates)) ?? null;
}

/** A frame that names no image or script takes the only file there is, never one of several. */
const fits = (file: TiedFile, name: string | null, candidates: readonly TiedFile[]): boolean =>
  file.name === null || (name === null ? candidates.filter((one) => one.isOfBuild).length === 1 : file.name === name);

/** A source over opened indexes. `isOfBuild` files are tried for frames that print no id. */
export function sourceOfFiles(files: readonly (TiedFile & { readonly opened: SymbolIndex })[]): SymbolSource {
  return sourceFrom((kind, tie) => chooseFile(files, kind, tie)?.opened.index ?? null);
}
