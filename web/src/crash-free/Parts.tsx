import type { Scope } from '@rough-ember/core/scope/scope';
import { search } from '../desk/desk-address';
import styles from './Parts.module.css';

const parts = { 'crash-free': 'Figures', sessions: 'Sessions', screens: 'Screens and requests', ways: 'Ways', people: 'People' } as const;

/** The parts of Crash-free, each with the scope that is looked at. */
export function Parts({ here, part, scope }: { here: string; part: keyof typeof parts; scope: Scope }) {
  return (
    <nav className={styles.parts} aria-label="Parts of Crash-free">
      {Object.entries(parts).map(([name, title]) => (
        <a key={name} href={`${here}/${name}${search(scope)}`} aria-current={name === part ? 'page' : undefined}>
          {title}
        </a>
      ))}
    </nav>
  );
}
