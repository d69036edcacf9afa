import type { Wall } from '@rough-ember/server/wall/load-wall';
import { useEffect, useState } from 'react';
import { addressOf, type RequestProblem } from '../client/api';
import { useQuestions } from '../client/use-questions';

const refreshMs = 5_000;
const turnMs = 20_000;

export interface LiveWall {
  readonly wall: Wall;
  /** Why the figures are not of now; they stay as they are meanwhile. */
  readonly problem: RequestProblem | null;
  readonly paused: boolean;
  /** Shows the app so many places further. */
  turn(places: number): void;
  pause(paused: boolean): void;
}

/** The figures of one app after the other, asked for anew every five seconds. */
export function useWall(secret: string, initial: Wall): LiveWall {
  const [wall, setWall] = useState(initial);
  const [slug, setSlug] = useState(initial.shown?.slug ?? null);
  const [problem, setProblem] = useState<RequestProblem | null>(null);
  const [paused, setPaused] = useState(false);
  const nameAfter = (places: number) => (before: string | null) => {
    const { apps } = wall;
    const at = apps.findIndex((one) => one.slug === before);
    return apps[(at + places + apps.length) % apps.length]?.slug ?? null;
  };

  const questions = useQuestions();
  useEffect(() => {
    const path = addressOf('GET /wall/{secret}', { secret }, slug === null ? {} : { app: slug });
    const onAnswer = (next: Wall) => {
      setWall(next);
      setProblem(null);
    };
    const look = () => questions.ask(path, { onAnswer, onProblem: setProblem, remedy: 'It tries again by itself.' });
    questions.leaveAllBut(path);
    look();
    const timer = setInterval(look, refreshMs);
    return () => clearInterval(timer);
  }, [questions, secret, slug]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: each turn begins a new wait
  useEffect(() => {
    if (paused) return;
    const timer = setTimeout(() => setSlug(nameAfter(1)), turnMs);
    return () => clearTimeout(timer);
  }, [slug, paused, wall.apps.length]);

  return { wall, problem, paused, turn: (places) => setSlug(nameAfter(places)), pause: setPaused };
}
