import type { ReadableFrame } from '@rough-ember/core/symbolicate/readable-report';
import type { SourceLines as FoundLines } from '@rough-ember/server/sources/source-lines';
import { useEffect } from 'react';
import { addressOf } from '../client/api';
import { useAnswer } from '../client/use-answer';
import styles from './StackView.module.css';

/** The lines of source around a frame, its own marked. */
export function SourceLines({ firstLine, lines, line }: Pick<FoundLines, 'firstLine' | 'lines'> & { line: number | null }) {
  return (
    // A long line scrolls sideways, so the keyboard must reach it.
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrollable region
    <pre className={styles.source} tabIndex={0}>
      {lines.map((text, index) => {
        const number = firstLine + index;
        return (
          <div key={number} data-own={number === line}>
            <span className={styles.sourceNumber}>{number}</span>
            {text}
          </div>
        );
      })}
    </pre>
  );
}

/** The same lines from the source folder of the app. Why there are none is said only to whoever asked for them. */
export function FoundSource({
  frame,
  appSlug,
  version,
  asked,
  onNone,
}: {
  frame: ReadableFrame;
  appSlug: string;
  version: string;
  asked: boolean;
  onNone: () => void;
}) {
  const place = new URLSearchParams({ file: frame.file ?? '', function: frame.function, line: String(frame.line), version });
  const { answer, problem } = useAnswer(addressOf('GET /apps/{app}/source', { app: appSlug }, place));
  const isNone = answer !== null && answer.found === null;
  useEffect(() => {
    if (isNone && !asked) onNone();
  }, [isNone, asked, onNone]);
  if (answer?.found) return <SourceLines {...answer.found} line={frame.line} />;
  if (!asked) return null;
  return <p className={styles.noSource}>{answer?.problem ?? problem?.message ?? 'looking …'}</p>;
}
