import { Button, Menu } from '@mantine/core';
import type { CaseFile } from '@rough-ember/server/desk/case-file';
import { useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { wordCount } from '../words/numbers';
import styles from './CaseActions.module.css';
import { Confirmation } from './Confirmation';

interface Deletion {
  run(): Promise<unknown>;
  readonly words: string;
  /** Nothing is left to look at here. */
  readonly endsCase: boolean;
}

/** Deletes the report that is shown, or the whole case; asked about first, since it cannot be taken back. */
export function DeleteMenu({ appSlug, file, onDeleted }: { appSlug: string; file: CaseFile; onDeleted: () => void }) {
  const [pending, setPending] = useState<Deletion | null>(null);
  const { problem, attempt } = useAttempt();
  const { item, report } = file;
  const run = async ({ run, endsCase }: Deletion) => {
    setPending(null);
    if (!(await attempt(run))) return;
    if (endsCase) window.location.assign(`/apps/${appSlug}/cases`);
    else onDeleted();
  };
  const isLast = item.reports === 1 && !file.outsideScope;
  return (
    <>
      <Menu width={260} returnFocus withInitialFocusPlaceholder={false}>
        <Menu.Target>
          <Button size="compact-sm" variant="default">
            Delete ▾
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item
            onClick={() =>
              setPending({
                run: () => request('DELETE /apps/{app}/reports/{id}', { app: appSlug, id: report.id }),
                words: `Delete this report of ${item.ref} for good, with its attachments?`,
                endsCase: isLast,
              })
            }
          >
            This report …
          </Menu.Item>
          <Menu.Item
            onClick={() =>
              setPending({
                run: () => request('DELETE /apps/{app}/cases/{ref}', { app: appSlug, ref: item.ref }),
                words: `Delete ${item.ref} for good, with all its reports (${wordCount(item.reports, 'report', 'reports')} in this scope) and its history?`,
                endsCase: true,
              })
            }
          >
            {item.ref} with all its reports …
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
      {pending && <Confirmation isFinal words={pending.words} onDo={() => void run(pending)} onLeave={() => setPending(null)} />}
      {problem && (
        <span role="alert" className={styles.problem}>
          <b>{problem.message}</b> {problem.remedy}
        </span>
      )}
    </>
  );
}
