import { Button } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import type { FirstStep } from '@rough-ember/server/now/first-hour';
import styles from './FirstHour.module.css';

/** What each step is for, and where it is taken. */
const steps: Readonly<Record<FirstStep, { readonly path: string; readonly does: string; readonly because: string }>> = {
  symbols: {
    path: '/symbols',
    does: 'Hand over the symbol files of the build',
    because: 'without them stacks are addresses and short names',
  },
  sessions: { path: '/intake', does: 'Let the client tell of sessions', because: 'nobody knows how many went well otherwise' },
  rollouts: { path: '/versions', does: 'Record the rollouts of versions', because: 'a build server does it with one command' },
  target: {
    path: '/crash-free',
    does: 'Say what you aim at, and what a rollout must fulfil',
    because: 'so far they are those that every app begins with',
  },
  told: { path: '/alerts', does: 'Say how you are told', because: 'rules are there, and no channel or mail that they could go by' },
  people: { path: '/settings', does: 'Invite who works with you', because: 'cases can be given to them, and notes mention them' },
};

/** What is worth doing next with a new app; each is gone when it is done, or is not for this team. */
export function FirstHour({ undone, here }: { undone: readonly FirstStep[]; here: string }) {
  const [left, setLeft] = useLocalStorage<readonly FirstStep[]>({
    key: `first-hour ${here}`,
    defaultValue: [],
    getInitialValueInEffect: true,
  });
  const shown = undone.filter((step) => !left.includes(step));
  if (shown.length === 0) return null;
  return (
    <section aria-label="Worth doing next">
      <h2>Worth doing next</h2>
      <ul className={styles.steps}>
        {shown.map((step) => (
          <li key={step}>
            <span>
              <a href={`${here}${steps[step].path}`}>{steps[step].does}</a>: {steps[step].because}
            </span>
            <Button
              size="compact-xs"
              variant="subtle"
              aria-label={`Not for us: ${steps[step].does}`}
              onClick={() => setLeft([...left, step])}
            >
              not for us
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
