import { NativeSelect } from '@mantine/core';
import type { Alignment } from '@rough-ember/core/stability/version-comparison';
import styles from './Versions.module.css';

/** With which version another is compared, and over which days. */
export function CompareWith({
  versions,
  chosen,
  usual,
  alignment,
  onVersion,
  onAlignment,
}: {
  versions: readonly string[];
  /** Null where it is left to the product. */
  chosen: string | null;
  /** What the product compares with at present. */
  usual: string | null;
  alignment: Alignment;
  onVersion: (version: string | null) => void;
  onAlignment: (alignment: Alignment) => void;
}) {
  if (versions.length === 0) return null;
  return (
    <div className={styles.comparing}>
      <NativeSelect
        size="xs"
        label="Compare with"
        value={chosen ?? ''}
        onChange={(event) => onVersion(event.currentTarget.value || null)}
        data={[
          {
            value: '',
            label:
              chosen === null && usual !== null ? `the last that was out to everybody (${usual})` : 'the last that was out to everybody',
          },
          ...versions,
        ]}
      />
      <NativeSelect
        size="xs"
        label="over"
        value={alignment}
        onChange={(event) => onAlignment(event.currentTarget.value as Alignment)}
        data={[
          { value: 'days', label: 'the same days' },
          { value: 'release', label: 'the days since each one came out' },
        ]}
      />
    </div>
  );
}
