import { UnstyledButton } from '@mantine/core';
import { frameStatuses, type ReadableException, type ReadableFrame } from '@rough-ember/core/symbolicate/readable-report';
import { useState } from 'react';
import { wordCount } from '../words/numbers';
import { foldFrames, type StackPiece, splitPackage } from './fold-frames';
import styles from './StackView.module.css';
import { shortPath } from './short-path';

const relationWords = { thrown: null, cause: 'Caused by', suppressed: 'Suppressed' } as const;

/** The exceptions of a report in order, each with its stack. */
export function Stacks({ exceptions }: { exceptions: readonly ReadableException[] }) {
  const numbered = exceptions.map((exception, number) => ({ exception, number }));
  return numbered.map(({ exception, number }) => <StackView key={number} exception={exception} />);
}

/** One exception: our frames open, outside frames folded and counted, inlined calls marked. */
function StackView({ exception }: { exception: ReadableException }) {
  const { type, message, relation, frames, framesInCommon } = exception;
  return (
    <div className={styles.exception}>
      <div className={styles.thrown}>
        {relationWords[relation] && <span className={styles.relation}>{relationWords[relation]} </span>}
        <code>
          <span className={styles.package}>{splitType(type).package}</span>
          <b>{splitType(type).local}</b>
        </code>
        {message !== null && <span className={styles.message}>: {message}</span>}
      </div>
      {frames.length === 0 ? (
        <div className={styles.fold}>No stack came with it.</div>
      ) : (
        <ol className={styles.frames}>
          {foldFrames(frames, framesInCommon).map((piece) => (
            <Piece key={piece.number} piece={piece} />
          ))}
        </ol>
      )}
    </div>
  );
}

const splitType = (type: string) => {
  if (!/^[\w.$]+$/.test(type)) return { package: '', local: type };
  const dot = type.lastIndexOf('.');
  return { package: type.slice(0, dot + 1), local: type.slice(dot + 1) };
};

function Piece({ piece }: { piece: StackPiece }) {
  const [open, setOpen] = useState(false);
  if (piece.type === 'frame') return <FrameLine frame={piece.frame} number={piece.number} />;
  const numbered = piece.frames.map((frame, index) => ({ frame, number: piece.number + index }));
  const words =
    piece.type === 'common'
      ? `${wordCount(piece.frames.length, 'frame', 'frames')} in common with the exception above`
      : `${wordCount(piece.frames.length, 'frame', 'frames')} in ${piece.packages.slice(0, 3).join(', ')}${piece.packages.length > 3 ? ' …' : ''}`;
  return (
    <>
      <li>
        <UnstyledButton className={styles.fold} aria-expanded={open} onClick={() => setOpen(!open)}>
          <span aria-hidden="true">{open ? '▾' : '▸'}</span> {words}
        </UnstyledButton>
      </li>
      {open && numbered.map(({ frame, number }) => <FrameLine key={number} frame={frame} number={number} />)}
    </>
  );
}

const troubledStatuses: ReadonlySet<string> = new Set(['ambiguous', 'not-covered', 'no-symbols']);
const shortStatus = { ambiguous: 'one of several', 'not-covered': 'not covered', 'no-symbols': 'symbols missing' } as const;

function FrameLine({ frame, number }: { frame: ReadableFrame; number: number }) {
  const [showsSource, setShowsSource] = useState(false);
  const { package: before, local } = splitPackage(frame.function);
  const trouble = troubledStatuses.has(frame.status) ? shortStatus[frame.status as keyof typeof shortStatus] : null;
  const explained = frame.alternatives ? `${frameStatuses[frame.status]}: ${frame.alternatives.join(', ')}` : frameStatuses[frame.status];
  return (
    <li className={styles.frame} data-ours={frame.ours} data-inlined={frame.inlined} title={frame.raw}>
      <span className={styles.number}>{frame.inlined ? '↳' : number}</span>
      <code className={styles.function}>
        <span className={styles.package}>{before}</span>
        <span className={styles.local}>{local}</span>
        {frame.inlined && <span className={styles.note}> inlined</span>}
        {trouble && (
          <span className={styles.trouble} title={explained}>
            {' '}
            {trouble}
          </span>
        )}
      </code>
      <code className={styles.place} title={frame.file ?? undefined}>
        {frame.context ? (
          <UnstyledButton className={styles.sourceSwitch} aria-expanded={showsSource} onClick={() => setShowsSource(!showsSource)}>
            {placeWords(frame)} <span aria-hidden="true">{showsSource ? '▾' : '▸'}</span>
          </UnstyledButton>
        ) : (
          placeWords(frame)
        )}
      </code>
      {frame.context && showsSource && <SourceLines context={frame.context} line={frame.line} />}
    </li>
  );
}

const placeWords = ({ file, line }: ReadableFrame): string => (file === null ? '' : `${shortPath(file)}${line === null ? '' : `:${line}`}`);

/** The lines of source around a frame, its own marked. */
function SourceLines({ context, line }: { context: NonNullable<ReadableFrame['context']>; line: number | null }) {
  return (
    // A long line scrolls sideways, so the keyboard must reach it.
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrollable region
    <pre className={styles.source} tabIndex={0}>
      {context.lines.map((text, index) => {
        const number = context.firstLine + index;
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

/** A stack without an exception: a thread, or the components of a user interface. */
export function FrameList({ frames }: { frames: readonly ReadableFrame[] }) {
  return (
    <ol className={styles.frames}>
      {foldFrames(frames, 0).map((piece) => (
        <Piece key={piece.number} piece={piece} />
      ))}
    </ol>
  );
}

/** The stacks as they were reported, untouched. */
export function RawStacks({ stacks }: { stacks: readonly { readonly title: string; readonly frames: readonly string[] }[] }) {
  return (
    // A long stack scrolls sideways, so the keyboard must reach it.
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrollable region
    <pre className={styles.raw} tabIndex={0}>
      {stacks.map((stack) => `${stack.title}\n${stack.frames.map((frame) => `    at ${frame}`).join('\n')}`).join('\n')}
    </pre>
  );
}
