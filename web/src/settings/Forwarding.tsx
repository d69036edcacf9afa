import { Button, Checkbox, TextInput } from '@mantine/core';
import { wordAgo } from '@rough-ember/core/words/time';
import type { ForwardView } from '@rough-ember/server/forwarding/forward-settings';
import type { SubmitEvent } from 'react';
import { addressOf, request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { useLive } from '../client/use-live';
import { ProblemNotice } from '../shell/Notice';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './Settings.module.css';

interface ForwardingProps {
  readonly appSlug: string;
  readonly first: { readonly forward: ForwardView | null };
  /** Time of the page. */
  readonly now: string;
  readonly mayChange: boolean;
  readonly isOwner: boolean;
}

/** Where reports and sessions go beside this server: a receiver of OpenTelemetry of the team's own, and how that goes. */
export function Forwarding({ appSlug, first, now, mayChange, isOwner }: ForwardingProps) {
  const { data, refresh } = useLive(appSlug, addressOf('GET /apps/{app}/forward', { app: appSlug }), first);
  const { problem, attempt } = useAttempt();
  const { forward } = data;
  const keep = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const textOf = (name: string) => String(form.get(name) ?? '').trim();
    const secret = textOf('headerValue');
    const body = {
      address: textOf('address'),
      headerName: textOf('headerName') || null,
      ...(secret !== '' && { headerValue: secret }),
      mayReachPrivate: form.get('mayReachPrivate') === 'on',
    };
    void attempt(() => request('PUT /apps/{app}/forward', { app: appSlug }, { body })).then((isDone) => isDone && refresh());
  };
  const stop = () => void attempt(() => request('DELETE /apps/{app}/forward', { app: appSlug })).then((isDone) => isDone && refresh());
  return (
    <section aria-label="Forwarding">
      <h2>Forwarding</h2>
      <p className={styles.costs}>
        Reports and sessions as log records of OpenTelemetry, for a collector of your own: each report once it is readable, each session
        where it begins and ends. It takes no time of whoever sends; what could not be sent waits for 7 days.
      </p>
      {forward && <ForwardState forward={forward} now={now} />}
      <form className={styles.facts} onSubmit={keep} key={forward?.address ?? ''}>
        <TextInput
          name="address"
          label="Address of the receiver (OTLP over HTTP, logs)"
          placeholder="https://collector.example/v1/logs"
          defaultValue={forward?.address ?? ''}
          required
          disabled={!mayChange}
        />
        <TextInput
          name="headerName"
          label="Header it knows this server by"
          placeholder="authorization"
          defaultValue={forward?.headerName ?? ''}
          disabled={!mayChange}
        />
        <TextInput
          name="headerValue"
          type="password"
          autoComplete="off"
          label="What the header says"
          description={forward?.hasSecret ? 'One is kept; leave this empty to keep it.' : 'Kept encrypted and shown to nobody.'}
          disabled={!mayChange}
        />
        {isOwner && (
          <Checkbox
            name="mayReachPrivate"
            label="It may lie in the network of this server"
            defaultChecked={forward?.mayReachPrivate ?? false}
          />
        )}
        <ProblemNotice problem={problem} />
        {mayChange && (
          <span className={styles.buttons}>
            <Button type="submit" size="compact-md">
              {forward ? 'Keep' : 'Forward from now on'}
            </Button>
            {forward && (
              <Button size="compact-md" variant="default" onClick={stop}>
                Forward no more
              </Button>
            )}
          </span>
        )}
      </form>
    </section>
  );
}

function ForwardState({ forward, now }: { forward: ForwardView; now: string }) {
  const { sent, refused, waiting, sentAt, attempts, nextTryAt, problem } = forward;
  return (
    <p role="status">
      {wordCount(sent, 'record', 'records')} sent{sentAt && `, the last ${wordAgo(sentAt, now)}`} · {wordNumber(waiting)} waiting
      {refused > 0 && ` · ${wordNumber(refused)} refused by the receiver`}
      {problem && (
        <>
          <br />
          <b>{problem}</b>
          {attempts > 0 && ` (tried ${wordCount(attempts, 'time', 'times')}, next ${nextTryAt.slice(11, 19)} UTC)`}
        </>
      )}
    </p>
  );
}
