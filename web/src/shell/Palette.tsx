import { Spotlight, type SpotlightActionData } from '@mantine/spotlight';
import { useState } from 'react';
import { addressOf } from '../client/api';
import { useAnswer } from '../client/use-answer';
import type { PageShell } from './page-shell';
import { places as appPlaces } from './places';
import '@mantine/spotlight/styles.css';

/** Goes anywhere by a few letters: places, apps, views, a case by its number, a person by their id. */
export function Palette({ shell }: { shell: PageShell }) {
  const { app, apps } = shell;
  const [wanted, setWanted] = useState('');
  const [opened, setOpened] = useState(false);
  const { answer: views } = useAnswer(opened ? addressOf('GET /apps/{app}/views', { app: app.slug }) : null);
  const go = (path: string) => () => window.location.assign(path);
  const here = `/apps/${app.slug}`;
  const number = /^(?:[a-z]{1,10}-)?(\d{1,9})$/i.exec(wanted.trim())?.[1];
  const direct: SpotlightActionData[] = [
    ...(number
      ? [{ id: 'case', label: `Case ${app.prefix}-${number}`, onClick: go(`${here}/cases/${app.prefix}-${number}?last=all&cases=any`) }]
      : []),
    ...(wanted.trim().length > 2
      ? [
          {
            id: 'search',
            label: `Cases in which “${wanted.trim()}” occurs`,
            onClick: go(`${here}/cases?filter=${encodeURIComponent(JSON.stringify(wanted.trim()))}`),
          },
          { id: 'person', label: `Person “${wanted.trim()}”`, onClick: go(`${here}/person?id=${encodeURIComponent(wanted.trim())}`) },
        ]
      : []),
  ];
  const places: SpotlightActionData[] = [
    ...(views ?? []).map((view) => ({
      id: `view ${view.id}`,
      label: view.name,
      description: view.forTeam ? 'view of the team' : 'your view',
      onClick: go(`${here}/cases?${view.address}`),
    })),
    ...appPlaces.map(({ path, label }) => ({ id: path, label, onClick: go(`${here}/${path}`) })),
    ...apps
      .filter((one) => one.slug !== app.slug)
      .map((one) => ({ id: `app ${one.slug}`, label: one.name, description: 'app', onClick: go(`/apps/${one.slug}/cases`) })),
  ];
  const fitting = places.filter(({ label }) => String(label).toLowerCase().includes(wanted.trim().toLowerCase()));
  return (
    <Spotlight.Root
      shortcut={['mod + K']}
      query={wanted}
      onQueryChange={setWanted}
      onSpotlightOpen={() => setOpened(true)}
      maxHeight={420}
      scrollable
    >
      <Spotlight.Search placeholder="Place, view, case number, person or words …" aria-label="Go to" />
      <Spotlight.ActionsList>
        {[...direct, ...fitting].map(({ id, label, description, onClick }) => (
          <Spotlight.Action key={id} label={label ?? ''} description={description ?? ''} onClick={onClick ?? (() => {})} />
        ))}
        {direct.length + fitting.length === 0 && <Spotlight.Empty>Nothing of that name</Spotlight.Empty>}
      </Spotlight.ActionsList>
    </Spotlight.Root>
  );
}
