import { Button, TextInput } from '@mantine/core';
import { type SubmitEvent, useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';

/** Deletes an app, once its name was written. */
export function DeleteApp({ app }: { app: PageShell['app'] }) {
  const [asks, setAsks] = useState(false);
  const [name, setName] = useState('');
  const { problem, attempt } = useAttempt();
  const remove = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    if (await attempt(() => request('DELETE /apps/{app}', { app: app.slug }, { body: { name } }))) window.location.assign('/');
  };
  if (!asks)
    return (
      <Button size="xs" variant="default" onClick={() => setAsks(true)}>
        Delete {app.name} …
      </Button>
    );
  return (
    <form onSubmit={(event) => void remove(event)} method="post">
      <p>
        Its cases, reports, sessions, figures, symbol files, keys and tokens go for good; its apps out there are refused from then on. This
        cannot be taken back.
      </p>
      <TextInput
        size="xs"
        label={`Write “${app.name}” to delete it`}
        value={name}
        onChange={(event) => setName(event.currentTarget.value)}
      />
      <ProblemNotice problem={problem} />
      <Button type="submit" size="xs" color="red" variant="outline" mt={8} disabled={name.trim() !== app.name}>
        Delete {app.name} for good
      </Button>{' '}
      <Button size="xs" variant="subtle" mt={8} onClick={() => setAsks(false)}>
        Keep it
      </Button>
    </form>
  );
}
