import { Button } from '@mantine/core';
import type { Scope } from '@rough-ember/core/scope/scope';
import type { Sequence, StepPattern } from '@rough-ember/core/sequences/sequence';
import type { Way } from '@rough-ember/core/sequences/ways';
import { kindsOfEnds } from '@rough-ember/core/stability/figures';
import type { AppWays } from '@rough-ember/server/sequences/load-ways';
import { useEffect, useState } from 'react';
import { addressOf } from '../client/api';
import { useAddress } from '../client/use-address';
import { useAnswer } from '../client/use-answer';
import styles from '../crash-free/CrashFree.module.css';
import { EndsWord } from '../crash-free/EndsWord';
import { endWordsPlural } from '../crash-free/Headline';
import { Parts } from '../crash-free/Parts';
import { verdictMarks } from '../crash-free/StabilityMatrixTable';
import { ScopeSentence } from '../scope/ScopeSentence';
import { ScopeContext } from '../scope/scope-context';
import { SessionTable } from '../sessions/SessionTable';
import { ProblemNotice } from '../shell/Notice';
import type { PageShell } from '../shell/page-shell';
import { Shell } from '../shell/Shell';
import { FunnelTable } from '../ways/FunnelTable';
import { SequenceSentence } from '../ways/SequenceSentence';
import { WaysTable, wordWay } from '../ways/WaysTable';
import { type LookSize, lookSizes, readWaysView, type WaysView, waysParameters, writeWaysView } from '../ways/ways-address';
import { wordCount, wordNumber } from '../words/numbers';

export interface WaysPageProps {
  readonly shell: PageShell;
  readonly ways: AppWays;
  readonly view: WaysView;
  /** Oldest first. */
  readonly versions: readonly string[];
}

export function WaysPage(props: WaysPageProps) {
  return (
    <Shell shell={props.shell} place="crash-free">
      <Ways {...props} />
    </Shell>
  );
}

/** The ways through the app: through which screens it comes to a bad end, and who follows a sequence of steps how far. */
function Ways({ shell, ways: firstWays, view: first, versions }: WaysPageProps) {
  const [view, go] = useAddress(first, readWaysView, writeWaysView);
  const appSlug = shell.app.slug;
  const here = `/apps/${appSlug}`;
  const look = useLook(view, firstWays.cut);
  const asked = addressOf('GET /apps/{app}/ways', { app: appSlug }, waysParameters({ ...view, look }));
  // Read from what was sent, which takes its time: asked when the question changes, not whenever something arrives.
  const [firstAsked] = useState(asked);
  const isFirst = asked === firstAsked;
  const later = useAnswer(isFirst ? null : asked);
  const data = isFirst ? firstWays : (later.answer ?? firstWays);
  const { problem } = later;
  const stale = !isFirst && later.stale;
  const changeScope = (scope: Scope) => go({ ...view, scope });
  const follow = (sequence: Sequence) => go({ ...view, sequence });
  const bad = endWordsPlural(view.badEnds);
  const chosen = data.ways.find((way) => isFollowed(way, view.sequence));
  const lookedAtAll = Object.values(data.looked).reduce((sum, count) => sum + count, 0);
  return (
    <ScopeContext value={{ scope: view.scope, appSlug, change: changeScope }}>
      <main>
        <ScopeSentence
          appSlug={appSlug}
          scope={view.scope}
          versions={versions}
          onChange={changeScope}
          subject={
            <>
              Ways to <EndsWord word={endWordsPlural} badEnds={view.badEnds} onChange={(badEnds) => go({ ...view, badEnds })} />
            </>
          }
        >
          <Parts here={here} part="ways" scope={view.scope} />
        </ScopeSentence>
        <ProblemNotice problem={problem} />
        {lookedAtAll === 0 ? (
          <NothingTold here={here} isNarrow={view.scope.days !== null || view.scope.filter !== null} />
        ) : (
          <div className={styles.work} aria-busy={stale}>
            <section aria-label="Ways through screens">
              <div className={styles.line}>
                <span>Through which screens it comes to {bad}</span>
                <span className={styles.faint}>
                  {verdictMarks.worse} {verdictMarks.better} surely worse, better than by other ways · choose one to follow it
                </span>
              </div>
              {data.ways.length === 0 ? (
                <p className={styles.faint}>No three of the sessions with {bad} that were looked at end on the same screen.</p>
              ) : (
                <WaysTable
                  answer={data}
                  chosen={chosen ? wordWay(chosen) : null}
                  onChoose={(way) => follow(stepsOfWay(way, view.badEnds))}
                />
              )}
            </section>
            <section aria-label="Who gets how far">
              <div className={styles.line}>
                <span>Who gets how far, and what becomes of the others</span>
                <span className={styles.faint}>steps in order; others may lie between</span>
              </div>
              <SequenceSentence sequence={view.sequence} steps={data.steps} onChange={follow} />
              {view.sequence.length === 0 ? (
                <p className={styles.faint}>Choose steps, or a way above: then you see who comes to each, and where they leave or crash.</p>
              ) : (
                data.funnel.length === view.sequence.length && <FunnelTable sequence={view.sequence} funnel={data.funnel} />
              )}
            </section>
            {view.sequence.length > 0 && (
              <section aria-label="Sessions that went so">
                <div className={styles.line}>
                  <span>Sessions that went so{data.sessions.length > 0 && `, the newest ${wordNumber(data.sessions.length)}`}</span>
                </div>
                {data.sessions.length === 0 ? (
                  <p className={styles.faint}>None of those that were looked at went all of these steps.</p>
                ) : (
                  <SessionTable sessions={data.sessions} now={data.now} here={here} />
                )}
              </section>
            )}
            <LookedAt answer={data} look={look} isLooking={stale} onLook={(next) => go({ ...view, look: next })} />
          </div>
        )}
      </main>
    </ScopeContext>
  );
}

/** The screens of a way as steps, and the end that it comes to. */
function stepsOfWay({ screens }: Way, badEnds: WaysView['badEnds']): Sequence {
  const steps = screens.map((name): StepPattern => ({ kind: 'screen', name, outcome: null, withinMs: null }));
  const [kind = 'crash'] = kindsOfEnds(badEnds);
  return [...steps, { kind, name: null, outcome: null, withinMs: null }];
}

const isFollowed = ({ screens }: Way, sequence: Sequence): boolean =>
  sequence.length === screens.length + 1 && screens.every((screen, at) => sequence[at]?.kind === 'screen' && sequence[at]?.name === screen);

/** A page comes with a first look at few sessions; once it is there, more are looked at while somebody reads. */
function useLook({ look }: WaysView, isCut: boolean): LookSize | null {
  const [isThere, setThere] = useState(false);
  useEffect(() => setThere(true), []);
  return look ?? (isThere && isCut ? lookSizes[1] : null);
}

interface LookedAtProps {
  readonly answer: AppWays;
  readonly look: LookSize | null;
  readonly isLooking: boolean;
  readonly onLook: (look: LookSize) => void;
}

/** How many sessions all this is told from, and the way to look at more. */
function LookedAt({ answer, look, isLooking, onLook }: LookedAtProps) {
  const { looked, totals, cut, unasked, trailDays } = answer;
  const bad = (of: AppWays['totals']) => of.crashed + of.hung + of.killed;
  const next = lookSizes.find((size) => size > (look ?? 0));
  return (
    <div>
      <p className={styles.faint}>
        Looked at {wordCount(looked.ended, 'session that went well', 'sessions that went well')} and told what happened, drawn by chance out
        of {wordNumber(totals.ended)}, and at {wordNumber(bad(looked))} of {wordNumber(bad(totals))} that crashed, hung or were killed. Each
        stands for as many of its day as ended like it.{' '}
        {trailDays !== null && `Sessions of the last ${trailDays} days alone are looked at: trails are kept no longer. `}A trail keeps its
        last 100 events: of a long session the first steps may be missing.
      </p>
      {looked.ended === 0 && (
        <p className={styles.faint}>
          No session that went well tells what happened in it. Clients of this server tell it for one in ten; those of older versions do
          not, and so nothing can be said of how many go a way.
        </p>
      )}
      {unasked.length > 0 && (
        <p className={styles.faint}>Sessions do not tell {unasked.join(', ')}; that part of the filter narrows nothing here.</p>
      )}
      {isLooking && look !== null ? (
        <p className={styles.faint} role="status">
          Looking at {wordNumber(look)} of each …
        </p>
      ) : (
        cut &&
        next !== undefined && (
          <Button size="compact-sm" variant="default" onClick={() => onLook(next)}>
            Look at {wordNumber(next)} of each
          </Button>
        )
      )}
    </div>
  );
}

function NothingTold({ here, isNarrow }: { here: string; isNarrow: boolean }) {
  return (
    <section className={styles.nothing}>
      <h1>No session of this scope tells what happened in it</h1>
      <p>
        The trail of a report tells it of sessions that went wrong; of the others one in ten tells its own, when the client is of this
        version. The snippets are on <a href={`${here}/intake`}>Intake</a>.
      </p>
      {isNarrow && <p>Or the scope above is narrower than what was sent.</p>}
    </section>
  );
}
