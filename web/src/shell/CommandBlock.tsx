import styles from './CommandBlock.module.css';
import { CopyButton } from './CopyButton';

/** A command to be copied into a shell. */
export function CommandBlock({ command }: { command: string }) {
  return (
    <div className={styles.block}>
      <code>{command}</code>
      <CopyButton text={command} compact>
        Copy
      </CopyButton>
    </div>
  );
}
