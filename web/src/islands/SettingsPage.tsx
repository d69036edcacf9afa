import { Button, Checkbox, Group, TextInput } from '@mantine/core';
import { appPlatforms } from '@rough-ember/core/report/app-platforms';
import type { AppSettingsView } from '@rough-ember/server/app-settings/load-settings';
import type { ServerSettingsView } from '@rough-ember/server/app-settings/server-settings';
import type { ForwardView } from '@rough-ember/server/forwarding/forward-settings';
import { type ReactNode, type SubmitEvent, useState } from 'react';
import { addressOf, request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useLive } from '../client/use-live';
import { Forwarding } from '../settings/Forwarding';
import { ServerSettings } from '../settings/ServerSettings';
import { SettingHistory } from '../settings/SettingHistory';
import styles from '../settings/Settings.module.css';
import { CommandBlock } from '../shell/CommandBlock';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { wordBytes, wordCount, wordNumber } from '../words/numbers';

export interface SettingsPageProps {
  readonly shell: PageShell;
  readonly settings: AppSettingsView;
  readonly forwarding: { readonly forward: ForwardView | null };
  /** For owners. */
  readonly server: ServerSettingsView | null;
}

export function SettingsPage(props: SettingsPageProps) {
  return (
    <Shell shell={props.shell} place="settings">
      <Settings {...props} />
    </Shell>
  );
}

/** Everything that an app and the server are set to: what it is, what it costs and changes, and where it is changed. */
function Settings({ shell, settings: first, forwarding, server }: SettingsPageProps) {
  const appSlug = shell.app.slug;
  const { data: settings, refresh } = useLive(appSlug, addressOf('GET /apps/{app}/settings', { app: appSlug }), first);
  const here = `/apps/${appSlug}`;
  const mayChange = shell.account.role !== 'viewer';
  return (
    <main className={styles.page}>
      <h1>Settings of {settings.app.name}</h1>
      <AppFacts appSlug={appSlug} app={settings.app} mayChange={mayChange} onChanged={refresh} />
      <SettingLines here={here} settings={settings} isOwner={shell.account.role === 'owner'} />
      <h2>Taking the app along</h2>
      <p className={styles.costs}>
        Everything of the app as lines of JSON, and as Parquet for your own tables; taken in elsewhere, its figures are the same. It takes a
        token that may change, of Intake.
      </p>
      <CommandBlock command={`npx ember export --app ${appSlug} --server ${shell.serverAddress} --to ${appSlug}/ --parquet`} />
      <Forwarding appSlug={appSlug} first={forwarding} now={settings.now} mayChange={mayChange} isOwner={shell.account.role === 'owner'} />
      <SettingHistory appSlug={appSlug} changes={settings.changes} mayChange={mayChange} onUndone={refresh} />
      {server && <ServerSettings server={server} />}
    </main>
  );
}

/** What the app is called, is for, and whose code is its own. */
function AppFacts({
  appSlug,
  app,
  mayChange,
  onChanged,
}: {
  appSlug: string;
  app: AppSettingsView['app'];
  mayChange: boolean;
  onChanged: () => void;
}) {
  const { problem, attempt } = useAttempt();
  const [chosen, setChosen] = useState<string[]>([...app.platforms]);
  const keep = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const body = {
      name: String(form.get('name')),
      platforms: appPlatforms.filter((one) => chosen.includes(one)),
      ourPackages: String(form.get('packages'))
        .split(/[\s,]+/)
        .filter((one) => one !== ''),
    };
    void attempt(() => request('PUT /apps/{app}', { app: appSlug }, { body })).then((isDone) => isDone && onChanged());
  };
  return (
    <form className={styles.facts} onSubmit={keep}>
      <TextInput name="name" label="Name" defaultValue={app.name} maxLength={100} required disabled={!mayChange} />
      <TextInput
        label="Prefix"
        value={app.prefix}
        readOnly
        disabled
        description="It stays: references such as LG-142 stand in tickets, commits and chats."
      />
      <Checkbox.Group label="Platforms" value={chosen} onChange={setChosen}>
        <Group mt={4} gap="md">
          {appPlatforms.map((one) => (
            <Checkbox key={one} value={one} label={one} disabled={!mayChange} />
          ))}
        </Group>
      </Checkbox.Group>
      <TextInput
        name="packages"
        label="Packages of your own code"
        description="Frames in them are yours. A change holds for reports that come from now on."
        defaultValue={app.ourPackages.join(', ')}
        disabled={!mayChange}
      />
      <ProblemNotice problem={problem} />
      {mayChange && (
        <Button type="submit" size="compact-md">
          Keep
        </Button>
      )}
    </form>
  );
}

/** One line for each thing that has a page of its own. */
function SettingLines({ here, settings, isOwner }: { here: string; settings: AppSettingsView; isOwner: boolean }) {
  const { intakeKeys, tokens, scrub, retention, holdings, groupingRules, attributes, desk, stability, alertRules, channels, people } =
    settings;
  const limits = Object.entries(retention).flatMap(([thing, { days, megabytes }]) => {
    const most = [days === null ? [] : wordCount(days, 'day', 'days'), megabytes === null ? [] : `${wordNumber(megabytes)} MB`]
      .flat()
      .join(' or ');
    return most === '' ? [] : [`${thingWords[thing] ?? thing} for ${most}`];
  });
  const held = Object.entries(holdings)
    .filter(([, { items }]) => items > 0)
    .map(([thing, { items, bytes }]) => `${wordNumber(items)} ${thingWords[thing] ?? thing}, ${wordBytes(bytes)}`);
  const scrubbed = [
    scrub.mail && 'mail addresses',
    scrub.cards && 'card numbers',
    scrub.ibans && 'account numbers',
    scrub.tokens && 'tokens',
    scrub.phones && 'telephone numbers',
  ].filter(Boolean);
  return (
    <dl className={styles.lines}>
      <Line
        title="Keys and tokens"
        href={`${here}/intake`}
        costs="A key may be public; what it lets in, and which builds stay out of the figures, are rules of the key."
      >
        {wordCount(intakeKeys, 'intake key', 'intake keys')}, {wordCount(tokens, 'token', 'tokens')} in use
      </Line>
      <Line
        title="What is taken out of texts"
        href={`${here}/private`}
        costs="Before anything is stored; what was taken out is gone for good."
      >
        {[...scrubbed, ...scrub.patterns.map(({ name }) => name), ...scrub.attributes].join(', ') || 'nothing'}
      </Line>
      <Line
        title="How long things are kept"
        href={`${here}/private`}
        costs={`What goes is gone; figures of its days stay. Last measured: ${held.join('; ') || 'nothing'}.`}
      >
        {limits.join('; ') || 'for good'}
      </Line>
      <Line
        title="Grouping rules"
        href={`${here}/grouping`}
        costs="Previewed on history before they apply; cases may merge and split by them."
      >
        {groupingRules === 0 ? 'none but those of the product' : wordCount(groupingRules, 'rule', 'rules')}
      </Line>
      <Line
        title="Filterable attributes"
        href={`${here}/desk`}
        costs="Each different value takes memory; reports of before are looked at again."
      >
        {attributes.join(', ') || 'none'}
      </Line>
      <Line
        title="Sources and repositories"
        href={`${here}/desk`}
        costs="Shows lines of source, and which commits may have brought a case."
      >
        {desk.sources.map((one) => one.folder).join(', ') || 'none'}
      </Line>
      <Line
        title="Target and rollout conditions"
        href={`${here}/versions`}
        costs="The answer of the rollout check, and of what is told of it, follows from them."
      >
        {stability.targetPercent === null ? 'no target' : `${stability.targetPercent} % of sessions without a crash`}
      </Line>
      <Line title="Alert rules and channels" href={`${here}/alerts`} costs="Each is tried on history before it is kept.">
        {wordCount(alertRules, 'rule', 'rules')}; {channels.join(', ') || 'no channel'}
      </Line>
      <Line
        title="Tickets"
        href={`${here}/tickets`}
        costs="A tracker that is reached by templates; the one closes the other where you say so."
      >
        the tracker, and the tickets of cases
      </Line>
      <Line title="People who see the app" href={isOwner ? '/people' : null} costs="Owners invite people, and say which apps they see.">
        {people.join(', ')}
      </Line>
      <Line
        title="Delete"
        href={isOwner ? `${here}/private` : null}
        costs="Everything of the app goes for good; export it first if anybody may ask for it."
      >
        the app with its cases, reports, sessions and symbol files
      </Line>
    </dl>
  );
}

const thingWords: Readonly<Record<string, string>> = {
  reports: 'reports',
  attachments: 'attachments',
  intakeLog: 'lines of the intake log',
};

function Line({ title, href, costs, children }: { title: string; href: string | null; costs: string; children: ReactNode }) {
  return (
    <>
      <dt>{href ? <a href={href}>{title}</a> : title}</dt>
      <dd>
        {children}
        <span className={styles.costs}>{costs}</span>
      </dd>
    </>
  );
}
