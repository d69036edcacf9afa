import { UnstyledButton } from '@mantine/core';
import {
  frameStatuses,
  type ReadableException,
  type ReadableFrame,
  type ReadableThread,
} from '@rough-ember/core/symbolicate/readable-report';
import { useState } from 'react';
import { wordCount } from '../words/numbers';
import { FrameMenu } from './FrameMenu';
import { foldFrames, type StackPiece, splitPackage } from './fold-frames';
import { useFrameLinks } from './frame-links';
import { FoundSource, SourceLines } from './SourceLines';
import styles from './StackView.module.css';
import { shortPath } from './short-path';

const relationWords = { thrown: null, cause: 'Caused by', suppressed: 'Suppressed' } as const;

/** The frame to open first: which exception, and which frame of it. */
export interface Culprit {
  readonly exception: number;
  readonly frame: number;
}

/** The exceptions of a report in order, each with its stack; the source of the culprit is open. */
export function Stacks({ exceptions, culprit = null }: { exceptions: readonly ReadableException[]; culprit?: Culprit | null }) {
  const numbered = exceptions.map((exception, number) => ({ exception, number }));
  return numbered.map(({ exception, number }) => (
    <StackView key={number} exception={exception} opensAt={culprit?.exception === number ? culprit.frame : null} />
  ));
}

/** One exception: our frames open, outside frames folded and counted, inlined calls marked. */
function StackView({ exception, opensAt }: { exception: ReadableException; opensAt: number | null }) {
  const { type, message, relation, frames, framesInCommon, framesLeftOut } = exception;
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
          <Pieces pieces={foldFrames(frames, framesInCommon, framesLeftOut)} opensAt={opensAt} leftOut={framesLeftOut} />
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

/** A stack of thousands of lines is read at its two ends; the rest is there when it is asked for. */
const shownAtOnce = { first: 60, last: 20 } as const;

type LeftOut = ReadableThread['framesLeftOut'];

function Pieces({ pieces, opensAt = null, leftOut }: { pieces: readonly StackPiece[]; opensAt?: number | null; leftOut: LeftOut }) {
  const [all, setAll] = useState(false);
  const hidden = pieces.length - shownAtOnce.first - shownAtOnce.last;
  const show = (some: readonly StackPiece[]) =>
    some.map((piece) => <Piece key={`${piece.type} ${piece.number}`} piece={piece} opensAt={opensAt} leftOut={leftOut} />);
  if (all || hidden < shownAtOnce.last) return show(pieces);
  const middle = pieces.slice(shownAtOnce.first, pieces.length - shownAtOnce.last);
  return (
    <>
      {show(pieces.slice(0, shownAtOnce.first))}
      <li>
        <UnstyledButton className={styles.fold} aria-expanded={false} onClick={() => setAll(true)}>
          <span aria-hidden="true">▸</span> {wordCount(hidden, 'line', 'lines')} more
        </UnstyledButton>
      </li>
      {show(middle.filter((piece) => piece.type === 'left-out'))}
      {show(pieces.slice(pieces.length - shownAtOnce.last))}
    </>
  );
}

function Piece({ piece, opensAt = null, leftOut }: { piece: StackPiece; opensAt?: number | null; leftOut: LeftOut }) {
  const [open, setOpen] = useState(false);
  if (piece.type === 'left-out')
    return (
      <li className={styles.fold}>
        … {wordCount(piece.count, 'frame was', 'frames were')} cut out here: the stack was too deep to be kept whole
      </li>
    );
  if (piece.type === 'frame')
    return <FrameLine frame={piece.frame} number={piece.number} isOpen={piece.number === opensAt} leftOut={leftOut} />;
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
      {open && numbered.map(({ frame, number }) => <FrameLine key={number} frame={frame} number={number} leftOut={leftOut} />)}
    </>
  );
}

const troubledStatuses: ReadonlySet<string> = new Set(['ambiguous', 'not-covered', 'no-symbols']);
const shortStatus = { ambiguous: 'one of several', 'not-covered': 'not covered', 'no-symbols': 'symbols missing' } as const;

interface FrameLineProps {
  readonly frame: ReadableFrame;
  readonly number: number;
  readonly isOpen?: boolean;
  readonly leftOut: LeftOut;
}

function FrameLine({ frame, number, isOpen = false, leftOut }: FrameLineProps) {
  // Behind a cut the frames keep the place that they had.
  const place = leftOut && frame.rawIndex >= leftOut.after ? number + leftOut.count : number;
  const links = useFrameLinks();
  const [asked, setAsked] = useState<boolean | null>(null);
  // Of which place there is no source: the frame of another report, or a symbol file that comes later, opens all the same.
  const [placeWithout, setPlaceWithout] = useState<string | null>(null);
  const showsSource = asked ?? (isOpen && (frame.context !== undefined || placeWithout !== placeWords(frame)));
  const isFindable = frame.file !== null && frame.line !== null && links !== null && links.settings.sources.length > 0;
  return (
    <li className={styles.frame} data-ours={frame.ours} data-inlined={frame.inlined} title={frame.raw}>
      <span className={styles.number}>{frame.inlined ? '↳' : place}</span>
      <FunctionName frame={frame} />
      <code className={styles.place} title={frame.file ?? undefined}>
        {frame.context || isFindable ? (
          <UnstyledButton className={styles.sourceSwitch} aria-expanded={showsSource} onClick={() => setAsked(!showsSource)}>
            {placeWords(frame)} <span aria-hidden="true">{showsSource ? '▾' : '▸'}</span>
          </UnstyledButton>
        ) : (
          placeWords(frame)
        )}
      </code>
      <FrameMenu frame={frame} />
      {showsSource &&
        (frame.context ? (
          <SourceLines {...frame.context} line={frame.line} />
        ) : (
          isFindable && (
            <FoundSource
              frame={frame}
              appSlug={links.appSlug}
              version={links.version}
              asked={asked === true}
              onNone={() => setPlaceWithout(placeWords(frame))}
            />
          )
        ))}
    </li>
  );
}

/** The function of a frame, and whether its name can be relied on. */
function FunctionName({ frame }: { frame: ReadableFrame }) {
  const { package: before, local } = splitPackage(frame.function);
  const trouble = troubledStatuses.has(frame.status) ? shortStatus[frame.status as keyof typeof shortStatus] : null;
  const explained = frame.alternatives ? `${frameStatuses[frame.status]}: ${frame.alternatives.join(', ')}` : frameStatuses[frame.status];
  return (
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
  );
}

const placeWords = ({ file, line }: ReadableFrame): string => (file === null ? '' : `${shortPath(file)}${line === null ? '' : `:${line}`}`);

/** A stack without an exception: a thread, or the components of a user interface. */
export function FrameList({ frames, framesLeftOut }: Pick<ReadableThread, 'frames' | 'framesLeftOut'>) {
  return (
    <ol className={styles.frames}>
      <Pieces pieces={foldFrames(frames, 0, framesLeftOut)} leftOut={framesLeftOut} />
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
