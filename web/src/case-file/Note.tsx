import Markdown from 'react-markdown';
import { linkNote } from './link-note';
import styles from './Talk.module.css';

/** A note in Markdown, without pictures or HTML of its own; who is mentioned stands out. */
export function Note({ text, people }: { text: string; people: readonly string[] }) {
  return (
    <div className={styles.note}>
      <Markdown
        skipHtml
        disallowedElements={['img']}
        components={{
          a: ({ href = '', children }) =>
            href.startsWith('mailto:') ? (
              <b>{children}</b>
            ) : (
              <a href={href} rel="noreferrer">
                {children}
              </a>
            ),
          h1: 'h4',
          h2: 'h4',
          h3: 'h4',
        }}
      >
        {linkNote(text, people)}
      </Markdown>
    </div>
  );
}
