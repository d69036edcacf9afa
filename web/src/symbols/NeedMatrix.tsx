import { familyOf, wordSymbolFile } from '@rough-ember/core/symbols/families';
import type { BuildNeed } from '@rough-ember/server/symbols/symbol-overview';
import { wordNumber } from '../words/numbers';
import styles from './NeedMatrix.module.css';
import { type MatrixCell, type NeedMatrixRows, needMatrix } from './need-matrix';
import { wordSymbolRow } from './symbol-words';

/** One row for each file that running builds need, one column for each version: what is there, and what is missing. */
export function NeedMatrix({
  needs,
  selected,
  onSelect,
}: {
  needs: readonly BuildNeed[];
  selected: MatrixCell | null;
  onSelect: (cell: MatrixCell) => void;
}) {
  const { versions, rows }: NeedMatrixRows = needMatrix(needs);
  return (
    <section aria-label="What running builds need" className={styles.scroll}>
      <table className={styles.matrix}>
        <thead>
          <tr>
            <th scope="col" className={styles.corner}>
              File
            </th>
            {versions.map((version) => (
              <th scope="col" key={version}>
                {version}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ kind, name, cells }) => (
            <tr key={`${kind} ${name}`}>
              <th scope="row">
                <code>{wordSymbolRow({ kind, name })}</code>
                {name !== null && <span className={styles.kind}> {familyOf(kind).title}</span>}
              </th>
              {cells.map((cell, index) => (
                <td key={versions[index]}>
                  <NeedCell
                    cell={cell}
                    label={`${wordSymbolFile({ kind, name })} of ${versions[index]}`}
                    isChosen={selected?.key === cell?.key}
                    onSelect={onSelect}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <Legend />
    </section>
  );
}

/** One file in one version; a cell that no report asks for is empty. */
function NeedCell(props: { cell: MatrixCell | null; label: string; isChosen: boolean; onSelect: (cell: MatrixCell) => void }) {
  const { cell, label, isChosen, onSelect } = props;
  if (!cell) return <span className={styles.cell} data-state="unseen" />;
  return (
    <button
      type="button"
      className={styles.cell}
      data-state={cell.state}
      aria-pressed={isChosen}
      aria-label={`${label}: ${cellWords(cell)}`}
      onClick={() => onSelect(cell)}
    >
      {cell.state === 'missing' ? wordNumber(cell.costReports) : cell.state === 'misfit' ? '≠' : ''}
    </button>
  );
}

function Legend() {
  return (
    <div className={styles.legend}>
      <span>
        <i data-state="covered" /> have it
      </span>
      <span>
        <i data-state="warnings" /> have it, with warnings
      </span>
      <span>
        <i data-state="misfit">≠</i> have one that does not fit
      </span>
      <span>
        <i data-state="missing">9</i> missing; reports waiting
      </span>
      <span>
        <i data-state="unseen" /> not asked for
      </span>
    </div>
  );
}

function cellWords({ state, costReports }: MatrixCell): string {
  if (state === 'missing') return `missing, ${wordNumber(costReports)} reports waiting`;
  if (state === 'misfit') return 'have one that does not fit';
  return state === 'warnings' ? 'have it, with warnings' : 'have it';
}
