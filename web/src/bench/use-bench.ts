import { useCallback, useEffect, useRef, useState } from 'react';
import type { BenchAnswer, BenchPart, BenchReport, BenchRequest } from './messages';

/** A symbol file on the bench, and how far it is. */
export interface BenchFile {
  readonly id: number;
  readonly file: File;
  readonly state: { readonly share: number } | { readonly parts: readonly BenchPart[] } | { readonly refused: string };
}

export type BenchResult = { readonly reports: readonly BenchReport[] } | { readonly unreadable: string } | null;

/** What the worker tells of a file. */
function stateOf(answer: Extract<BenchAnswer, { readonly id: number }>): BenchFile['state'] {
  if (answer.type === 'progress') return { share: answer.share };
  return answer.type === 'indexed' ? { parts: answer.parts } : { refused: answer.reason };
}

/**
 * The worker behind the bench. Taking away a file that is still being read stops the worker, as nothing else stops a
 * computation, and starts it again with the others.
 */
export function useBench(ours: readonly string[]) {
  const [files, setFiles] = useState<readonly BenchFile[]>([]);
  const [result, setResult] = useState<BenchResult>(null);
  const worker = useRef<Worker | null>(null);
  const crash = useRef<Uint8Array | null>(null);
  const nextId = useRef(1);

  const hear = useCallback((answer: BenchAnswer) => {
    if (answer.type === 'result') setResult({ reports: answer.reports });
    else if (answer.type === 'unreadable') setResult({ unreadable: answer.reason });
    else setFiles((all) => all.map((one) => (one.id === answer.id ? { ...one, state: stateOf(answer) } : one)));
  }, []);
  const start = useCallback(() => {
    const started = new Worker(new URL('./bench.worker.ts', import.meta.url), { type: 'module' });
    started.onmessage = ({ data }: MessageEvent<BenchAnswer>) => hear(data);
    worker.current = started;
  }, [hear]);
  const ask = useCallback((request: BenchRequest) => worker.current?.postMessage(request), []);
  useEffect(() => {
    start();
    return () => worker.current?.terminate();
  }, [start]);

  const add = useCallback(
    (added: readonly File[]) => {
      const fresh = added.map((file): BenchFile => ({ id: nextId.current++, file, state: { share: 0 } }));
      setFiles((all) => [...all, ...fresh]);
      for (const { id, file } of fresh) ask({ type: 'add', id, file });
    },
    [ask],
  );
  const remove = useCallback(
    (gone: BenchFile) => {
      const left = files.filter((one) => one.id !== gone.id);
      setFiles(left);
      if (!('share' in gone.state)) {
        ask({ type: 'remove', id: gone.id });
        return;
      }
      worker.current?.terminate();
      start();
      for (const { id, file } of left) ask({ type: 'add', id, file });
      if (crash.current) ask({ type: 'crash', bytes: crash.current, ours });
    },
    [ask, files, ours, start],
  );
  const setCrash = useCallback(
    (bytes: Uint8Array | null) => {
      crash.current = bytes;
      if (bytes === null) setResult(null);
      else ask({ type: 'crash', bytes, ours });
    },
    [ask, ours],
  );
  return { files, result, add, remove, setCrash };
}
