import { symbolReader } from '../reader.ts';
import { SplitUnits } from './split-units.ts';

/** Its files are ELF files, which the reader of machine code tells apart. */
export const splitReader = symbolReader({ kind: 'split', open: (sections) => SplitUnits.open(sections), formats: [] });
