import styles from './Cut.module.css';

/** A name that others gave: cut where it would take the room of its neighbours, and told whole to whoever rests on it. */
export function Cut({ text, width = 220, title = text }: { text: string /** At most, in pixels. */; width?: number; title?: string }) {
  return (
    <span className={styles.cut} style={{ maxWidth: width }} title={title}>
      {text}
    </span>
  );
}
