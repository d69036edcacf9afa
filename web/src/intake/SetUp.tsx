import { Button, Tabs } from '@mantine/core';
import type { IntakeOverview } from '@rough-ember/server/intake/intake-overview';
import { useState } from 'react';
import { RequestProblem, readProblem } from '../client/api';
import { CommandBlock } from '../shell/CommandBlock';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { type QuietReason, quietReasons } from './quiet-reasons';
import styles from './SetUp.module.css';
import { snippets } from './snippets';

export const keyInUse = (overview: IntakeOverview) => overview.keys.find((key) => key.revokedAt === null) ?? null;

/** What to put into the app, with the key filled in, and a test report to see the way is open. */
export function SetUp({ shell, overview }: { shell: PageShell; overview: IntakeOverview }) {
  const key = keyInUse(overview)?.keyText ?? '<intake key>';
  const shown = snippets(shell, key, shell.app.slug);
  return (
    <section className={styles.setUp}>
      <h2>Set it up</h2>
      <Tabs defaultValue="curl" keepMounted={false}>
        <Tabs.List>
          {shown.map(({ platform }) => (
            <Tabs.Tab key={platform} value={platform}>
              {platform}
            </Tabs.Tab>
          ))}
        </Tabs.List>
        {shown.map(({ platform, proof, install, code }) => (
          <Tabs.Panel key={platform} value={platform} className={styles.panel}>
            {install && <CommandBlock command={install} />}
            <CommandBlock command={code} />
            <p className={styles.proof}>{proof}</p>
          </Tabs.Panel>
        ))}
      </Tabs>
      <p>
        Everything that can be sent is described at <a href="/intake/v1/schema.json">/intake/v1/schema.json</a>.
      </p>
    </section>
  );
}

/** The usual reasons why nothing comes, each with what the server knows of it; those first that are likely. */
export function QuietReasons({ overview, serverAddress }: { overview: IntakeOverview; serverAddress: string }) {
  return (
    <dl className={styles.reasons} aria-label="Why nothing may come">
      {quietReasons(overview, serverAddress).map(({ name, verdict, words }) => (
        <div key={name} data-verdict={verdict}>
          <dt>
            {name}
            <span>{verdictWords[verdict]}</span>
          </dt>
          <dd>{words}</dd>
        </div>
      ))}
    </dl>
  );
}

const verdictWords: Readonly<Record<QuietReason['verdict'], string>> = { likely: 'likely', unknown: 'look', unlikely: 'not it' };

/** Sends a made-up report from this browser, with the app's own key, by the way every report takes. */
export function TestReport({ shell, overview, onSent }: { shell: PageShell; overview: IntakeOverview; onSent: () => void }) {
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [sent, setSent] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const key = keyInUse(overview);
  const send = async () => {
    setBusy(true);
    setProblem(null);
    const id = crypto.randomUUID();
    const report = {
      type: 'report',
      id,
      kind: 'crash',
      occurredAt: new Date().toISOString(),
      version: '0.0.0-test',
      build: '0',
      buildType: 'test',
      exceptions: [{ type: 'TestReport', message: `sent by ${shell.account.name} from the Intake page` }],
    };
    try {
      const answer = await fetch('/intake/v1/batch', {
        method: 'POST',
        headers: { authorization: `Bearer ${key?.keyText}` },
        body: JSON.stringify(report),
      });
      if (answer.ok) setSent(id);
      else setProblem(await readProblem(answer));
    } catch {
      setProblem(new RequestProblem('The server does not answer.', 'Try again in a moment.'));
    }
    setBusy(false);
    onSent();
  };
  if (!key) return null;
  return (
    <div className={styles.test}>
      <Button size="xs" variant="default" onClick={send} loading={busy}>
        Send a test report
      </Button>
      <span role="status">
        {sent && (
          <>
            It arrived. <a href={`/apps/${shell.app.slug}/reports/${sent}`}>Open it</a>
          </>
        )}
      </span>
      <ProblemNotice problem={problem} />
    </div>
  );
}
