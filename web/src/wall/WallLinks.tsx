import { Button, Drawer, MultiSelect, Stack, TextInput } from '@mantine/core';
import type { AnswerOf } from '@rough-ember/server/api/registry';
import { type SubmitEvent, useState } from 'react';
import { addressOf, request } from '../client/api';
import { useAnswer } from '../client/use-answer';
import { type Attempt, useAttempt } from '../client/use-attempt';
import { CopyButton } from '../shell/CopyButton';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { useTimes } from '../shell/use-times';
import { ZoneSelect } from '../shell/ZoneSelect';
import styles from './WallLinks.module.css';

/** Asks for the name of a link and the apps that it shows, and makes it. */
function NewLink(props: { apps: PageShell['apps']; attempt: Attempt; onMade: (link: string) => void }) {
  const [apps, setApps] = useState<string[]>([]);
  const make = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const name = String(new FormData(form).get('name'));
    void props.attempt(async () => {
      const { link } = await request('POST /wall-links', {}, { body: { name, apps: apps.length === 0 ? null : apps } });
      props.onMade(link);
      form.reset();
    });
  };
  return (
    <form onSubmit={make} className={styles.form}>
      <TextInput name="name" label="Name of the link" placeholder="Screen in the kitchen" maxLength={100} required />
      <MultiSelect
        label="Apps that take turns"
        placeholder={apps.length === 0 ? 'all' : undefined}
        data={props.apps.map(({ slug, name }) => ({ value: slug, label: name }))}
        value={apps}
        onChange={setApps}
      />
      <Button type="submit">Make the link</Button>
    </form>
  );
}

/** The zone of the clock that walls show while it is the turn of this app. */
function ZoneOfWall({ shell: { app }, attempt }: { shell: PageShell; attempt: Attempt }) {
  const { answer } = useAnswer(addressOf('GET /apps/{app}', { app: app.slug }));
  const [chosen, setChosen] = useState<string | null>();
  const choose = async (zone: string | null) => {
    if (await attempt(() => request('PUT /apps/{app}/zone', { app: app.slug }, { body: { zone } }))) setChosen(zone);
  };
  if (!answer) return null;
  return (
    <ZoneSelect
      label={`Clock while it is the turn of ${app.name}`}
      description="Everybody in front of a wall sees the same time."
      wordNone="UTC"
      zone={chosen === undefined ? answer.zone : chosen}
      onChange={(zone) => void choose(zone)}
    />
  );
}

function LinkRow({ link, onRevoke }: { link: AnswerOf<'GET /wall-links'>[number]; onRevoke: () => void }) {
  const { wordDate, wordTime } = useTimes();
  return (
    <li>
      <span>
        <b>{link.name}</b> · {link.apps === null ? 'all apps' : link.apps.join(', ')}
        <br />
        <span className={styles.faint}>
          {link.madeBy}, {wordDate(link.createdAt)};{' '}
          {link.lastUsedAt === null ? 'not looked at yet' : `looked at ${wordTime(link.lastUsedAt)}`}
        </span>
      </span>
      <Button size="compact-xs" variant="default" aria-label={`Revoke ${link.name}`} onClick={onRevoke}>
        Revoke
      </Button>
    </li>
  );
}

/** Links that show the figures on a big screen without a sign-in: made, shown once, and revoked. */
export function WallLinks({ shell, onClose }: { shell: PageShell; onClose: () => void }) {
  const [turn, setTurn] = useState(0);
  const { answer: links, problem: loadProblem } = useAnswer(addressOf('GET /wall-links', {}), { turn });
  const [made, setMade] = useState<string | null>(null);
  const { problem, attempt: attemptOnce } = useAttempt();
  const attempt: Attempt = async (work) => {
    const isDone = await attemptOnce(work);
    setTurn((before) => before + 1);
    return isDone;
  };
  return (
    <Drawer opened onClose={onClose} closeButtonProps={{ 'aria-label': 'Close' }} position="right" title="On a big screen">
      <Stack gap="sm">
        <p>
          A link shows figures and cases of the apps, one after the other, without a sign-in. It shows no report and nobody’s name, and
          works until it is revoked.
        </p>
        <NewLink apps={shell.apps} attempt={attempt} onMade={setMade} />
        <div role="status">
          {made && (
            <div className={styles.made}>
              It is shown this once: <code>{made}</code> <CopyButton text={made}>Copy</CopyButton> <a href={made}>Open it</a>
            </div>
          )}
        </div>
        <ZoneOfWall shell={shell} attempt={attempt} />
        <ProblemNotice problem={problem ?? loadProblem} />
        <ul className={styles.links}>
          {links?.map((one) => (
            <LinkRow
              key={one.id}
              link={one}
              onRevoke={() => void attempt(() => request('DELETE /wall-links/{id}', { id: String(one.id) }))}
            />
          ))}
        </ul>
      </Stack>
    </Drawer>
  );
}
