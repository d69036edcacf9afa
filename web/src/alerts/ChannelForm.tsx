import { Button, Checkbox, NativeSelect, PasswordInput, Textarea, TextInput } from '@mantine/core';
import type { ChannelView } from '@rough-ember/server/alerts/rule-views';
import { type SubmitEvent, useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { CommandBlock } from '../shell/CommandBlock';
import { ProblemNotice } from '../shell/Notice';
import styles from './Alerts.module.css';

/** What one fills in for a kind of channel. */
interface Field {
  readonly name: string;
  readonly label: string;
  readonly description?: string;
  readonly placeholder?: string;
  readonly usual?: string;
  readonly isLong?: boolean;
  /** How the text becomes the setting. */
  readonly read?: (text: string) => unknown;
}

interface KindWords {
  readonly label: string;
  readonly fields: readonly Field[];
  /** Null where the kind has none. */
  readonly secret: { readonly label: string; readonly description: string; readonly isOptional: boolean } | null;
}

const words = (text: string): string[] => text.split(/[\s,]+/).filter((one) => one !== '');

const kinds: Readonly<Record<string, KindWords>> = {
  mail: {
    label: 'Mail to addresses',
    fields: [
      {
        name: 'to',
        label: 'Mail addresses',
        placeholder: 'team@example.org',
        description: 'Several with commas between them.',
        read: words,
      },
    ],
    secret: null,
  },
  webhook: {
    label: 'Webhook',
    fields: [{ name: 'address', label: 'Address', placeholder: 'https://example.org/alerts' }],
    secret: {
      label: 'Secret',
      description: 'Each message is signed with it as Standard Webhooks says. Left empty, one is made and shown once.',
      isOptional: true,
    },
  },
  room: {
    label: 'Chat room',
    fields: [
      {
        name: 'body',
        label: 'Body',
        description: 'JSON with {{subject}}, {{text}}, {{app}} and {{id}} where they belong.',
        usual: '{"text": "{{text}}"}',
        isLong: true,
      },
    ],
    secret: {
      label: 'Address of the room’s incoming webhook',
      description: 'Whoever knows it can write there, so it is kept encrypted.',
      isOptional: false,
    },
  },
  matrix: {
    label: 'Matrix room',
    fields: [
      { name: 'homeServer', label: 'Home server', placeholder: 'https://matrix.example.org' },
      { name: 'room', label: 'Room', placeholder: '!abc:example.org' },
    ],
    secret: { label: 'Access token', description: 'Of the account that writes into the room.', isOptional: false },
  },
  'text-message': {
    label: 'Text messages',
    fields: [
      { name: 'gateway', label: 'Address of the gateway', placeholder: 'https://sms.example.org/send' },
      { name: 'to', label: 'Numbers', placeholder: '+4755501234', read: words },
      {
        name: 'body',
        label: 'Body',
        description: 'JSON, sent once for each number; {{to}}, {{subject}} and {{secret}} where they belong.',
        usual: '{"to": "{{to}}", "text": "{{subject}}"}',
        isLong: true,
      },
    ],
    secret: { label: 'Key of the gateway', description: 'Sent as authorization: Bearer.', isOptional: true },
  },
};

export const wordKind = (kind: string): string => kinds[kind]?.label ?? kind;

interface FormProps {
  readonly appSlug: string;
  readonly isOwner: boolean;
  readonly onDone: () => void;
}

/** Makes a channel. A secret that the server made is shown until one leaves. */
export function ChannelForm({ appSlug, isOwner, onDone }: FormProps) {
  const [kind, setKind] = useState('webhook');
  const [secret, setSecret] = useState<string | null>(null);
  const { problem, attempt } = useAttempt();
  const of = kinds[kind] as KindWords;
  const make = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const given = new FormData(event.currentTarget);
    const text = (name: string) => String(given.get(name) ?? '').trim();
    const settings = Object.fromEntries(of.fields.map(({ name, read }) => [name, read ? read(text(name)) : text(name)]));
    await attempt(async () => {
      const made = await request(
        'POST /apps/{app}/channels',
        { app: appSlug },
        {
          body: {
            name: text('name'),
            kind: kind as 'mail',
            settings,
            mayReachPrivate: given.get('private') !== null,
            ...(text('secret') === '' ? {} : { secret: text('secret') }),
          },
        },
      );
      if (made.secret === null) onDone();
      else setSecret(made.secret);
    });
  };
  if (secret !== null)
    return (
      <div className={styles.form} role="status">
        <p>The channel is there. Give its receiver this secret; it is shown this once.</p>
        <CommandBlock command={secret} />
        <Button size="compact-sm" onClick={onDone}>
          Done
        </Button>
      </div>
    );
  return (
    <form className={styles.form} onSubmit={make} method="post">
      <NativeSelect
        size="xs"
        label="Kind"
        value={kind}
        data={Object.entries(kinds).map(([value, { label }]) => ({ value, label }))}
        onChange={(event) => setKind(event.currentTarget.value)}
      />
      <TextInput size="xs" name="name" label="Name" placeholder="Map team’s room" required maxLength={100} />
      {of.fields.map(({ name, label, description, placeholder, usual, isLong }) =>
        isLong ? (
          <Textarea key={`${kind} ${name}`} size="xs" name={name} label={label} description={description} defaultValue={usual} autosize />
        ) : (
          <TextInput
            key={`${kind} ${name}`}
            size="xs"
            name={name}
            label={label}
            description={description}
            placeholder={placeholder}
            defaultValue={usual}
            required
          />
        ),
      )}
      {of.secret && (
        <PasswordInput
          key={`${kind} secret`}
          size="xs"
          name="secret"
          label={of.secret.label}
          description={of.secret.description}
          autoComplete="off"
          required={!of.secret.isOptional}
        />
      )}
      {isOwner && kind !== 'mail' && (
        <Checkbox
          size="xs"
          name="private"
          label="It may lead into the network of this server"
          description="Otherwise only addresses of the internet are reached."
        />
      )}
      <ProblemNotice problem={problem} />
      <div className={styles.actions}>
        <Button size="compact-sm" type="submit">
          Make the channel
        </Button>
        <Button size="compact-sm" variant="subtle" onClick={onDone}>
          Leave it
        </Button>
      </div>
    </form>
  );
}

/** A channel with how it does, and what can be done with it. */
export function ChannelItem(props: {
  appSlug: string;
  channel: ChannelView;
  mayAct: boolean;
  now: string;
  wordAgo: (at: string, now: string) => string;
}) {
  const { appSlug, channel, mayAct, now, wordAgo } = props;
  const { id, name, kind, leadsTo, lastSentAt, failingSince, problem: failing } = channel;
  const [answer, setAnswer] = useState<string | null>(null);
  const { problem, attempt } = useAttempt();
  const path = { app: appSlug, id: String(id) };
  const sample = () => attempt(async () => setAnswer((await request('POST /apps/{app}/channels/{id}/sample', path, {})).answer));
  return (
    <li className={styles.channel}>
      <div>
        <b>{name}</b>
        <span className={styles.faint}> {[wordKind(kind), leadsTo].filter((one) => one !== '').join(', ')}</span>
      </div>
      <div className={failingSince === null ? styles.faint : styles.failing}>
        {failingSince !== null
          ? `Away since ${wordAgo(failingSince, now)}: ${failing}. Messages wait and are tried again for three days.`
          : lastSentAt === null
            ? 'Nothing was sent yet.'
            : `Last sent ${wordAgo(lastSentAt, now)}.`}
      </div>
      {mayAct && (
        <div className={styles.actions}>
          <Button size="compact-xs" variant="default" onClick={() => void sample()} aria-label={`Send a sample by ${name}`}>
            Send a sample
          </Button>
          <Button
            size="compact-xs"
            variant="subtle"
            aria-label={`Drop the channel ${name}`}
            onClick={() => void attempt(() => request('DELETE /apps/{app}/channels/{id}', path, {}))}
          >
            Drop
          </Button>
        </div>
      )}
      <div role="status">{answer !== null && `The receiver answered ${answer}`}</div>
      <ProblemNotice problem={problem} />
    </li>
  );
}
