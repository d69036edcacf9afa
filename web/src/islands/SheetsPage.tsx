import { Button } from '@mantine/core';
import type { SheetItem } from '@rough-ember/server/ask/sheets';
import styles from '../ask/Sheet.module.css';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { useTimes } from '../shell/use-times';
import { wordCount } from '../words/numbers';

export interface SheetsPageProps {
  readonly shell: PageShell;
  readonly sheets: readonly SheetItem[];
}

/** The sheets of an app: one's own and the team's, and those that ship with the product. */
export function SheetsPage({ shell, sheets }: SheetsPageProps) {
  const own = sheets.filter((one) => !one.isExample);
  return (
    <Shell shell={shell} place="ask">
      <main className={styles.page}>
        <h1>Sheets of {shell.app.name}</h1>
        {own.length === 0 ? (
          <p>
            No chart is kept yet.{' '}
            <Button component="a" size="compact-sm" href={`/apps/${shell.app.slug}/ask`}>
              Ask something
            </Button>{' '}
            and keep its answer on a sheet, or begin with one of these.
          </p>
        ) : (
          <>
            <h2>Yours and the team’s</h2>
            <SheetList shell={shell} sheets={own} />
          </>
        )}
        <h2>To begin with: what people ask most</h2>
        <SheetList shell={shell} sheets={sheets.filter((one) => one.isExample)} />
      </main>
    </Shell>
  );
}

function SheetList({ shell, sheets }: SheetsPageProps) {
  const { wordDate } = useTimes();
  return (
    <ul className={styles.list}>
      {sheets.map(({ name, title, charts, isExample, forTeam, madeBy, changedAt }) => (
        <li key={name}>
          <a href={`/apps/${shell.app.slug}/sheets/${name}`}>
            <b>{title}</b>
            <small>
              {wordCount(charts, 'chart', 'charts')}
              {!isExample && `, ${forTeam ? 'for the team' : 'only yours'}, of ${madeBy}`}
              {changedAt && `, ${wordDate(changedAt)}`}
            </small>
          </a>
        </li>
      ))}
    </ul>
  );
}
