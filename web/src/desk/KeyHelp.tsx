import { Modal } from '@mantine/core';
import styles from './KeyHelp.module.css';

/** A key and what it does, where it can be used. */
export interface KeyWords {
  readonly keys: readonly string[];
  readonly does: string;
}

/** The keys of a page, shown with "?". */
export function KeyHelp({ keys, opened, onClose }: { keys: readonly KeyWords[]; opened: boolean; onClose: () => void }) {
  return (
    <Modal opened={opened} onClose={onClose} title="Keys" size="sm" closeButtonProps={{ 'aria-label': 'Close the keys' }}>
      <dl className={styles.keys}>
        {keys.map(({ keys: ofAction, does }) => (
          <div key={does}>
            <dt>
              {ofAction.map((key) => (
                <kbd key={key}>{key}</kbd>
              ))}
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  );
}

/** Keys of a case, wherever it is shown. */
export const caseKeys = (mayAct: boolean): readonly KeyWords[] => [
  { keys: ['[', ']'], does: 'newer and older report of the case' },
  { keys: ['r'], does: 'readable or raw stack' },
  ...(mayAct
    ? [
        { keys: ['c'], does: 'close in a version' },
        { keys: ['m'], does: 'mute' },
        { keys: ['a'], does: 'assign' },
        { keys: ['g'], does: 'give it to the author of the likely change' },
      ]
    : []),
];
