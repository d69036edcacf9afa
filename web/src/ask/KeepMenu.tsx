import { Button, Checkbox, Popover, Stack, TextInput } from '@mantine/core';
import { wordMeasure } from '@rough-ember/core/ask/answer-words';
import { printQuestion, type Question } from '@rough-ember/core/ask/question';
import { printScope, type Scope } from '@rough-ember/core/scope/scope';
import { type SubmitEvent, useState } from 'react';
import { addressOf, request } from '../client/api';
import { useAnswer } from '../client/use-answer';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';
import { capitalised } from '../words/sentence';
import styles from './Sheet.module.css';

interface KeepMenuProps {
  readonly appSlug: string;
  readonly question: Question;
  readonly scope: Scope;
}

/** Puts the question with its scope on a sheet, one that is there or a new one. */
export function KeepMenu({ appSlug, question, scope }: KeepMenuProps) {
  const [opened, setOpened] = useState(false);
  const [kept, setKept] = useState<{ name: string; title: string } | null>(null);
  const { problem, attempt } = useAttempt();
  const [title, setTitle] = useState('');
  const asked = capitalised(wordMeasure(question.measure));
  const chart = () => ({ title: title.trim() || asked, question: printQuestion(question), scope: printScope(scope) });
  const keep = async (sheet: { name: string; title: string }) => {
    if (await attempt(() => request('POST /apps/{app}/sheets/{sheet}/charts', { app: appSlug, sheet: sheet.name }, { body: chart() }))) {
      setKept(sheet);
      setOpened(false);
    }
  };
  const make = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const name = String(form.get('sheet'));
    void attempt(async () => {
      const made = await request(
        'POST /apps/{app}/sheets',
        { app: appSlug },
        { body: { title: name, forTeam: form.get('team') === 'on', charts: [chart()] } },
      );
      setKept({ name: made.name, title: name });
      setOpened(false);
    });
  };
  return (
    <>
      {kept && (
        <span role="status">
          kept on <a href={`/apps/${appSlug}/sheets/${kept.name}`}>{kept.title}</a>
        </span>
      )}
      <Popover opened={opened} onChange={setOpened} width={320} position="bottom-end" trapFocus>
        <Popover.Target>
          <Button size="compact-sm" variant="default" onClick={() => setOpened(!opened)}>
            Keep on a sheet ▾
          </Button>
        </Popover.Target>
        <Popover.Dropdown>
          <Stack gap="xs">
            <TextInput
              label="Title of the chart"
              placeholder={asked}
              value={title}
              maxLength={200}
              onChange={(event) => setTitle(event.currentTarget.value)}
            />
            {opened && <OwnSheets appSlug={appSlug} onTake={(sheet) => void keep(sheet)} />}
            <form onSubmit={make} className={styles.newSheet}>
              <TextInput name="sheet" label="On a new sheet" placeholder="Carriers" maxLength={200} required />
              <Checkbox name="team" label="for the team" />
              <Button type="submit" size="compact-sm">
                Make it
              </Button>
            </form>
            <ProblemNotice problem={problem} />
          </Stack>
        </Popover.Dropdown>
      </Popover>
    </>
  );
}

function OwnSheets({ appSlug, onTake }: { appSlug: string; onTake: (sheet: { name: string; title: string }) => void }) {
  const { answer } = useAnswer(addressOf('GET /apps/{app}/sheets', { app: appSlug }));
  const own = (answer ?? []).filter((one) => !one.isExample);
  return (
    <ul className={styles.ownSheets}>
      {own.map((sheet) => (
        <li key={sheet.name}>
          <Button size="compact-sm" variant="subtle" onClick={() => onTake(sheet)}>
            {sheet.title}
          </Button>
        </li>
      ))}
    </ul>
  );
}
