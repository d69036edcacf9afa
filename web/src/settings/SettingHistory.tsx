import { Button } from '@mantine/core';
import type { SettingChangeView } from '@rough-ember/server/app-settings/load-settings';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';
import { useTimes } from '../shell/use-times';
import styles from './Settings.module.css';
import { settingWords, wordSettingChange } from './word-setting-change';

interface SettingHistoryProps {
  readonly appSlug: string;
  readonly changes: readonly SettingChangeView[];
  readonly mayChange: boolean;
  readonly onUndone: () => void;
}

/** Who changed which setting when, the newest first; the last of each can be undone. */
export function SettingHistory({ appSlug, changes, mayChange, onUndone }: SettingHistoryProps) {
  const { wordTime } = useTimes();
  const { problem, attempt } = useAttempt();
  const undo = (id: number) =>
    attempt(() => request('POST /apps/{app}/settings/changes/{id}/undo', { app: appSlug, id: String(id) })).then(
      (isDone) => isDone && onUndone(),
    );
  return (
    <section aria-label="Changes of settings">
      <h2>What was changed</h2>
      <ProblemNotice problem={problem} />
      {changes.length === 0 && (
        <p className={styles.costs}>Nobody has changed a setting yet. Grouping rules and alert rules have their own history.</p>
      )}
      <ol className={styles.history}>
        {changes.map((change) => (
          <li key={change.id}>
            <span>
              <b>{settingWords[change.setting]}</b> · {change.by}, <time dateTime={change.at}>{wordTime(change.at)}</time>
              <ul>
                {wordSettingChange(change).map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            </span>
            {mayChange && change.mayUndo && (
              <Button
                size="compact-xs"
                variant="default"
                aria-label={`Undo: ${settingWords[change.setting]}`}
                onClick={() => void undo(change.id)}
              >
                Undo
              </Button>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
