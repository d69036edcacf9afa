import { Button, Checkbox, Group, TextInput } from '@mantine/core';
import { type AppPlatform, appPlatforms } from '@rough-ember/core/report/app-platforms';
import { type SubmitEvent, useState } from 'react';
import { request } from '../client/api';
import { useAttempt } from '../client/use-attempt';
import { CardPage } from '../shell/CardPage';
import { ProblemNotice } from '../shell/Notice';
import styles from './SignIn.module.css';

/** Sets up an app; what comes next is its Intake page, with the key that was made for it. */
export function NewAppPage() {
  const [platforms, setPlatforms] = useState<AppPlatform[]>(['Android']);
  const { problem, attempt } = useAttempt();
  const [busy, setBusy] = useState(false);
  const submit = async (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const ourPackages = String(form.get('packages'))
      .split(/[\s,]+/)
      .filter((one) => one !== '');
    const body = { name: String(form.get('name')), prefix: String(form.get('prefix')), platforms, ourPackages };
    setBusy(true);
    const isMade = await attempt(async () => {
      const { slug } = await request('POST /apps', {}, { body });
      window.location.assign(`/apps/${slug}/intake`);
    });
    if (!isMade) setBusy(false);
  };
  return (
    <CardPage title="New app">
      <form className={styles.form} onSubmit={submit} method="post">
        <TextInput name="name" label="Name" placeholder="Larkfield Guide" required maxLength={100} />
        <TextInput
          name="prefix"
          label="Prefix"
          description="Its cases are numbered after it: LG-1, LG-2 …"
          placeholder="LG"
          required
          maxLength={10}
        />
        <Checkbox.Group label="Platforms" value={platforms} onChange={setPlatforms}>
          <Group mt={4}>
            {appPlatforms.map((one) => (
              <Checkbox key={one} value={one} label={one} />
            ))}
          </Group>
        </Checkbox.Group>
        <TextInput
          name="packages"
          label="Packages of your own code"
          description="Frames in them are yours. Left empty, all that are no known library."
          placeholder="com.larkfield"
        />
        <ProblemNotice problem={problem} />
        <Button type="submit" loading={busy}>
          Make the app
        </Button>
      </form>
    </CardPage>
  );
}
