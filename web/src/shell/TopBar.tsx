import { Menu, UnstyledButton, useMantineColorScheme } from '@mantine/core';
import { spotlight } from '@mantine/spotlight';
import { useState } from 'react';
import { request } from '../client/api';
import type { PageShell } from './page-shell';
import { barPlaces, type Place } from './places';
import styles from './TopBar.module.css';

/** The one thin bar: which app, where in it, and who. */
export function TopBar({ shell, place }: { shell: PageShell; place: Place | null }) {
  const { app, apps, account } = shell;
  return (
    <header className={styles.bar}>
      <span className={styles.coal} aria-hidden="true" />
      <Menu width={220}>
        <Menu.Target>
          <UnstyledButton className={styles.app}>{app.name} ▾</UnstyledButton>
        </Menu.Target>
        <Menu.Dropdown>
          {apps.map((one) => (
            <Menu.Item key={one.slug} component="a" href={`/apps/${one.slug}/cases`}>
              {one.name}
            </Menu.Item>
          ))}
          {account.role === 'owner' && (
            <>
              <Menu.Divider />
              <Menu.Item component="a" href="/new-app">
                New app …
              </Menu.Item>
            </>
          )}
        </Menu.Dropdown>
      </Menu>
      <nav className={styles.places} aria-label="Places">
        {barPlaces.map(({ path, title }) => (
          <a key={path} href={`/apps/${app.slug}/${path}`} aria-current={place === path ? 'page' : undefined}>
            {title}
          </a>
        ))}
      </nav>
      <UnstyledButton className={styles.go} onClick={spotlight.open} aria-keyshortcuts="Control+K">
        Go to … <kbd>Ctrl K</kbd>
      </UnstyledButton>
      <AccountMenu account={account} />
    </header>
  );
}

function AccountMenu({ account }: { account: PageShell['account'] }) {
  const { setColorScheme } = useMantineColorScheme();
  const [problem, setProblem] = useState<string | null>(null);
  const signOut = async () => {
    try {
      await request('POST /sign-out', {});
      window.location.assign('/sign-in');
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  return (
    <Menu position="bottom-end" width={220}>
      <Menu.Target>
        <UnstyledButton className={styles.account}>{account.name} ▾</UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Label>
          {account.email}, {account.role}
        </Menu.Label>
        <Menu.Item onClick={() => setColorScheme('light')}>Light</Menu.Item>
        <Menu.Item onClick={() => setColorScheme('dark')}>Dark</Menu.Item>
        <Menu.Item onClick={() => setColorScheme('auto')}>Light or dark as the system</Menu.Item>
        <Menu.Divider />
        <Menu.Item component="a" href="/account">
          Password and devices …
        </Menu.Item>
        {account.role === 'owner' && (
          <Menu.Item component="a" href="/people">
            People …
          </Menu.Item>
        )}
        <Menu.Divider />
        <Menu.Item onClick={signOut} closeMenuOnClick={false}>
          Sign out
        </Menu.Item>
        {problem && <Menu.Label>{problem}</Menu.Label>}
      </Menu.Dropdown>
    </Menu>
  );
}
