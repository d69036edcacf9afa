import type { SymbolNeed } from '@rough-ember/core/symbolicate/readable-report';
import { familyOf, wordSymbolFile } from '@rough-ember/core/symbols/families';

/** What a symbol file is called as it stands at the beginning of a row. */
export const wordSymbolRow = (need: Pick<SymbolNeed, 'kind' | 'name'>): string => need.name ?? wordSymbolFile(need);

/** "is", or "are" where the word for the file is a plural. */
export const isOrAre = ({ kind }: Pick<SymbolNeed, 'kind'>): 'is' | 'are' => (familyOf(kind).isPlural ? 'are' : 'is');
