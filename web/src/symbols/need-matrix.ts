import { type SymbolFileKind, symbolFileKinds } from '@rough-ember/core/symbols/families';
import { compareVersions } from '@rough-ember/core/version/version-order';
import type { BuildNeed } from '@rough-ember/server/symbols/symbol-overview';

/** What is known of one file in one version; a version may have several builds, each with a file of its own. */
export interface MatrixCell {
  readonly key: string;
  readonly state: 'covered' | 'warnings' | 'misfit' | 'missing';
  readonly costReports: number;
  readonly needs: readonly BuildNeed[];
}

export interface NeedMatrixRows {
  /** The latest versions that asked for symbol files, oldest first. */
  readonly versions: readonly string[];
  readonly rows: readonly {
    readonly kind: SymbolFileKind;
    readonly name: string | null;
    /** One for each version; null where nothing asked for the file. */
    readonly cells: readonly (MatrixCell | null)[];
  }[];
}

const shownVersions = 12;

/** Arranges needs by file and version; files that are missing somewhere come first among their kind. */
export function needMatrix(needs: readonly BuildNeed[]): NeedMatrixRows {
  const versions = [...new Set(needs.map((need) => need.version))].sort(compareVersions).slice(-shownVersions);
  const byFile = new Map<string, BuildNeed[]>();
  for (const need of needs) {
    const key = `${need.kind}\n${need.name ?? ''}`;
    byFile.set(key, [...(byFile.get(key) ?? []), need]);
  }
  const rows = [...byFile.values()].map((ofFile) => {
    const { kind, name } = ofFile[0] as BuildNeed;
    return { kind, name, cells: versions.map((version) => cellOf(ofFile.filter((need) => need.version === version))) };
  });
  const cost = (row: (typeof rows)[number]) => row.cells.reduce((sum, cell) => sum + (cell?.costReports ?? 0), 0);
  rows.sort(
    (a, b) =>
      symbolFileKinds.indexOf(a.kind) - symbolFileKinds.indexOf(b.kind) ||
      cost(b) - cost(a) ||
      (a.name ?? '').localeCompare(b.name ?? '', 'en'),
  );
  return { versions, rows };
}

function cellOf(needs: readonly BuildNeed[]): MatrixCell | null {
  const first = needs[0];
  if (!first) return null;
  const isMissing = needs.some((need) => !need.covered);
  return {
    key: `${first.kind} ${first.name} ${first.version}`,
    state: isMissing
      ? 'missing'
      : needs.some((need) => need.misfit !== null)
        ? 'misfit'
        : needs.some((need) => need.hasWarnings)
          ? 'warnings'
          : 'covered',
    costReports: needs.reduce((sum, need) => sum + need.costReports, 0),
    needs,
  };
}
