import { Button, Textarea, TextInput } from '@mantine/core';
import { type DeskSettings, deskSettingsSchema } from '@rough-ember/core/cases/desk-settings';
import type { FieldOverview } from '@rough-ember/server/desk/fields';
import { type SubmitEvent, useState } from 'react';
import { addressOf, problemOf, RequestProblem, request } from '../client/api';
import { useLive } from '../client/use-live';
import { readSourcePlaces, writeSourcePlaces } from '../desk/source-places';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { SidePage } from '../shell/SidePage';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './DeskPage.module.css';

export interface DeskPageProps {
  readonly shell: PageShell;
  readonly fields: FieldOverview;
  readonly settings: DeskSettings;
}

export function DeskPage(props: DeskPageProps) {
  return (
    <Shell shell={props.shell} place="cases">
      <DeskSettingsView {...props} />
    </Shell>
  );
}

type Run = (words: string, ask: () => Promise<unknown>) => Promise<void>;

/** What the desk of an app can be filtered by, what that costs, and where frames lead to. */
function DeskSettingsView({ shell, fields: initial, settings }: DeskPageProps) {
  const path = { app: shell.app.slug };
  const { data: fields, problem: liveProblem, refresh } = useLive(shell.app.slug, addressOf('GET /apps/{app}/fields', path), initial);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [said, setSaid] = useState<string | null>(null);
  const mayAct = shell.account.role !== 'viewer';
  const run: Run = async (words, ask) => {
    try {
      await ask();
      setProblem(null);
      setSaid(words);
      refresh();
    } catch (error) {
      setSaid(null);
      setProblem(problemOf(error));
    }
  };
  const side = (
    <>
      <FrameLinksForm app={shell.app.slug} settings={settings} mayAct={mayAct} onRun={run} onProblem={setProblem} />
      <section>
        <h2>Grouping</h2>
        <p>
          Which reports are one case follows the stacks, and <a href={`/apps/${shell.app.slug}/grouping`}>rules of this app</a>.
        </p>
      </section>
    </>
  );
  return (
    <SidePage
      sentence={
        <>
          Reports can be filtered by <b>{wordCount(fields.attributes.length, 'attribute', 'attributes')}</b> of this app, of{' '}
          {fields.mostAttributes} there can be, and by every field that all apps have.
        </>
      }
      problem={problem ?? liveProblem}
      side={side}
      sideLabel="Settings"
    >
      <div className={styles.work}>
        {said && <p role="status">{said}</p>}
        {fields.runsLeft > 0 && (
          <p role="status">At most {wordNumber(fields.runsLeft * 500)} reports are still to be looked at. This page can be left.</p>
        )}
        <AttributeTable app={shell.app.slug} attributes={fields.attributes} mayAct={mayAct} onRun={run} />
        {mayAct && <NewAttribute app={shell.app.slug} onRun={run} />}
      </div>
    </SidePage>
  );
}

/** The attributes that reports can be filtered by, with what each costs. */
function AttributeTable({
  app,
  attributes,
  mayAct,
  onRun,
}: {
  app: string;
  attributes: FieldOverview['attributes'];
  mayAct: boolean;
  onRun: Run;
}) {
  const giveUp = (name: string) => void onRun(`${name} is given up.`, () => request('DELETE /apps/{app}/attributes/{name}', { app, name }));
  return (
    <table className={styles.table}>
      <caption>Attributes. Each different value is kept once, and costs every report that has it a few bytes.</caption>
      <thead>
        <tr>
          <th scope="col">Attribute</th>
          <th scope="col">Different values</th>
          <th scope="col">
            <span className={styles.hidden}>What can be done</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {attributes.map(({ name, values }) => (
          <tr key={name}>
            <th scope="row">{name}</th>
            <td>
              {wordNumber(values)}
              {values > 10_000 && ', more than anybody filters by'}
            </td>
            <td>
              {mayAct && (
                <Button size="compact-xs" variant="subtle" onClick={() => giveUp(name)}>
                  Give up
                </Button>
              )}
            </td>
          </tr>
        ))}
        {attributes.length === 0 && (
          <tr>
            <td colSpan={3}>None yet. Point at an attribute of a report, under State, or name one here.</td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

/** Names an attribute that reports can be filtered by from then on. */
function NewAttribute({ app, onRun }: { app: string; onRun: Run }) {
  const add = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = event.currentTarget;
    const name = String(new FormData(form).get('name')).trim();
    const ask = () => request('POST /apps/{app}/attributes', { app }, { body: { name } });
    void onRun(`Reports are being looked at for ${name}.`, ask).then(() => form.reset());
  };
  return (
    <form className={styles.add} onSubmit={add}>
      <TextInput name="name" size="xs" aria-label="Name of the attribute" placeholder="name of an attribute" required maxLength={200} />
      <Button type="submit" size="xs" variant="default">
        Make it filterable
      </Button>
    </form>
  );
}

interface FrameLinksFormProps {
  readonly app: string;
  readonly settings: DeskSettings;
  readonly mayAct: boolean;
  readonly onRun: Run;
  readonly onProblem: (problem: RequestProblem) => void;
}

/** Where a frame leads to: a line in the editor, in the repository, or in sources that the server has. */
function FrameLinksForm({ app, settings, mayAct, onRun, onProblem }: FrameLinksFormProps) {
  const save = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const links = readLinks(new FormData(event.currentTarget));
    const parsed = deskSettingsSchema.safeParse({ ...settings, ...links });
    if (!parsed.success) {
      const [issue] = parsed.error.issues;
      onProblem(new RequestProblem(`${String(issue?.path[0])}: ${issue?.message}.`, 'Change it and save again.'));
      return;
    }
    void onRun('Saved.', async () => {
      const current = await request('GET /apps/{app}/desk-settings', { app });
      await request('PUT /apps/{app}/desk-settings', { app }, { body: { ...parsed.data, breakdowns: current.breakdowns } });
    });
  };
  return (
    <section>
      <h2>Where frames lead, and what is copied</h2>
      <form className={styles.form} onSubmit={save}>
        {linkInputs.map(({ valueIn, ...input }) => (
          <TextInput key={input.name} {...input} defaultValue={valueIn(settings) ?? ''} disabled={!mayAct} />
        ))}
        <Textarea
          name="sources"
          size="xs"
          label="Folders of the sources on the server, a line each"
          description="Under EMBER_SOURCES_DIR. Of a git checkout also the revision, behind an @: its history then tells which change may have brought a case."
          placeholder={'guide-android @ v{version}\nguide-ios @ ios-{version}'}
          defaultValue={writeSourcePlaces(settings.sources)}
          disabled={!mayAct}
          autosize
          minRows={2}
        />
        <Textarea
          name="copy"
          size="xs"
          label="What a case is copied as"
          description="In the words of the team, with {{title}}, {{markdown}}, {{text}}, {{link}}, {{ref}}, {{app}}, {{version}}, {{people}} and {{reports}}. It stands under Copy."
          placeholder={'{{title}}\n\nHow often: {{reports}} reports, {{people}} people\n\n{{markdown}}'}
          defaultValue={settings.copy ?? ''}
          disabled={!mayAct}
          autosize
          minRows={2}
        />
        {mayAct && (
          <Button type="submit" size="xs" variant="default">
            Save
          </Button>
        )}
      </form>
      <p>
        <code>{'{version}'}</code> becomes that of the report, <code>{'{file}'}</code> and <code>{'{line}'}</code> those of the frame.
      </p>
    </section>
  );
}

const linkInputs = [
  {
    name: 'editor',
    label: 'Address of a line in the editor',
    placeholder: 'myeditor://open?path=/src/{file}&line={line}',
    valueIn: ({ editor }: DeskSettings) => editor,
  },
  {
    name: 'repository',
    label: 'Address of a line in the repository',
    placeholder: 'https://git.larkfield.example/guide/{version}/{file}#L{line}',
    valueIn: ({ repository }: DeskSettings) => repository,
  },
];

function readLinks(form: FormData): Pick<DeskSettings, 'editor' | 'repository' | 'sources' | 'copy'> {
  const text = (name: string) => String(form.get(name)).trim() || null;
  return {
    editor: text('editor'),
    repository: text('repository'),
    sources: readSourcePlaces(String(form.get('sources'))),
    copy: String(form.get('copy')).trim() === '' ? null : String(form.get('copy')),
  };
}
