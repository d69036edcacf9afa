import { Button, Drawer, MultiSelect, Stack, TextInput } from '@mantine/core';
import { type SubmitEvent, useState } from 'react';
import { addressOf, problemOf, type RequestProblem, request } from '../client/api';
import { useAnswer } from '../client/use-answer';
import { CopyButton } from '../shell/CopyButton';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { wordDate, wordTime } from '../words/time';
import styles from './WallLinks.module.css';

/** Links that show the figures on a big screen without a sign-in: made, shown once, and revoked. */
export function WallLinks({ shell, onClose }: { shell: PageShell; onClose: () => void }) {
  const [turn, setTurn] = useState(0);
  const { answer: links, problem: loadProblem } = useAnswer(addressOf('GET /wall-links', {}), { turn });
  const [apps, setApps] = useState<string[]>([]);
  const [made, setMade] = useState<string | null>(null);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const attempt = async (work: () => Promise<unknown>) => {
    try {
      setProblem(null);
      await work();
    } catch (error) {
      setProblem(problemOf(error));
    }
    setTurn((before) => before + 1);
  };
  const make = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const name = String(new FormData(form).get('name'));
    void attempt(async () => {
      const { link } = await request('POST /wall-links', {}, { body: { name, apps: apps.length === 0 ? null : apps } });
      setMade(link);
      form.reset();
    });
  };
  return (
    <Drawer opened onClose={onClose} closeButtonProps={{ 'aria-label': 'Close' }} position="right" title="On a big screen">
      <Stack gap="sm">
        <p>
          A link shows figures and cases of the apps, one after the other, without a sign-in. It shows no report and nobody’s name, and
          works until it is revoked.
        </p>
        <form onSubmit={make} className={styles.form}>
          <TextInput name="name" label="Name of the link" placeholder="Screen in the kitchen" maxLength={100} required />
          <MultiSelect
            label="Apps that take turns"
            placeholder={apps.length === 0 ? 'all' : undefined}
            data={shell.apps.map(({ slug, name }) => ({ value: slug, label: name }))}
            value={apps}
            onChange={setApps}
          />
          <Button type="submit">Make the link</Button>
        </form>
        <div role="status">
          {made && (
            <div className={styles.made}>
              It is shown this once: <code>{made}</code> <CopyButton text={made}>Copy</CopyButton> <a href={made}>Open it</a>
            </div>
          )}
        </div>
        <ProblemNotice problem={problem ?? loadProblem} />
        <ul className={styles.links}>
          {links?.map((one) => (
            <li key={one.id}>
              <span>
                <b>{one.name}</b> · {one.apps === null ? 'all apps' : one.apps.join(', ')}
                <br />
                <span className={styles.faint}>
                  {one.madeBy}, {wordDate(one.createdAt)};{' '}
                  {one.lastUsedAt === null ? 'not looked at yet' : `looked at ${wordTime(one.lastUsedAt)}`}
                </span>
              </span>
              <Button
                size="compact-xs"
                variant="default"
                aria-label={`Revoke ${one.name}`}
                onClick={() => void attempt(() => request('DELETE /wall-links/{id}', { id: String(one.id) }))}
              >
                Revoke
              </Button>
            </li>
          ))}
        </ul>
      </Stack>
    </Drawer>
  );
}
