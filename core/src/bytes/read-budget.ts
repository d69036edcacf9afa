import { MalformedInput } from './byte-reader.ts';

/** Parts of a section that a compiler wrote never overlap; this much more is read before a file counts as malformed. */
const mostOverlap = 4;
const alwaysBytes = 65_536;

/**
 * Bounds what is read of a section by references that may point anywhere: a hostile file lets a million of them begin a byte
 * apart, each with all that follows.
 */
export class ReadBudget {
  private leftBytes: number;

  constructor(
    length: number,
    private readonly parts: string,
  ) {
    this.leftBytes = mostOverlap * length + alwaysBytes;
  }

  /** Counts a part that is read; throws MalformedInput when too much of the section was read over and over. */
  spend(bytes: number, offset: number): void {
    this.leftBytes -= bytes;
    if (this.leftBytes < 0) throw new MalformedInput(`${this.parts} overlap too often, here`, offset);
  }
}
