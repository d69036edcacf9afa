import { Menu, UnstyledButton, useMantineColorScheme } from '@mantine/core';
import { spotlight } from '@mantine/spotlight';
import { useEffect, useRef, useState } from 'react';
import { addressOf, request } from '../client/api';
import { useAnswer } from '../client/use-answer';
import type { PageShell } from './page-shell';
import { barPlaces, type Place } from './places';
import styles from './TopBar.module.css';

/** The one thin bar: which app, where in it, and who. */
export function TopBar({ shell, place }: { shell: PageShell; place: Place | null }) {
  const { app, apps, account } = shell;
  const placesRef = useRef<HTMLElement>(null);
  // Where there is no room for all places, the one that is open is among those that show.
  useEffect(() => {
    const here = placesRef.current?.querySelector<HTMLElement>('[aria-current]');
    if (here && placesRef.current)
      placesRef.current.scrollLeft =
        here.offsetLeft - placesRef.current.offsetLeft - placesRef.current.clientWidth / 2 + here.offsetWidth / 2;
  }, []);
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
      <nav className={styles.places} aria-label="Places" ref={placesRef}>
        {barPlaces.map(({ path, title }) => (
          <a key={path} href={`/apps/${app.slug}/${path}`} aria-current={place === path ? 'page' : undefined}>
            {title}
          </a>
        ))}
      </nav>
      <UnstyledButton className={styles.go} onClick={spotlight.open} aria-keyshortcuts="Control+K">
        Go to … <kbd>Ctrl K</kbd>
      </UnstyledButton>
      <ForYou shell={shell} isHere={place === 'for-you'} />
      <AccountMenu account={account} />
    </header>
  );
}

/** While a page is open, what is told meanwhile shows within this time. */
const askAgainMs = 60_000;

/** The way to what somebody was told, with how much of it is unread. */
function ForYou({ shell, isHere }: { shell: PageShell; isHere: boolean }) {
  const [turn, setTurn] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => document.visibilityState === 'visible' && setTurn((before) => before + 1), askAgainMs);
    return () => clearInterval(timer);
  }, []);
  const { answer } = useAnswer(turn === 0 ? null : addressOf('GET /account/told/unread', {}), { turn });
  // The page of it knows better than what was asked a minute ago.
  const unread = isHere ? shell.unread : (answer?.unread ?? shell.unread);
  return (
    <a
      className={styles.forYou}
      href={`/apps/${shell.app.slug}/for-you`}
      aria-current={isHere ? 'page' : undefined}
      aria-label={unread > 0 ? `For you, ${unread} unread` : undefined}
    >
      For you{unread > 0 && <b>{unread > 99 ? '99+' : unread}</b>}
    </a>
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
