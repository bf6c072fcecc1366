/** Tracks under the steps: what these would do, worked out in a worker at every change of steps or answers. */
import { useEffect, useRef, useState } from 'react';
import type { CleanTracks, Selection } from '@early-set/core/api/types';
import type { Answer, CleanResult } from '@early-set/core/clean/runSteps';
import type { Step } from '@early-set/core/clean/steps';
import { post } from '../../data/api.ts';
import { useServerEvents } from '../../data/events.ts';
import { useNameCounts } from '../../data/hooks.ts';
import { StepsWorker } from './stepsWorker.ts';
import type { CleanRequest } from './worker.ts';

export interface CleanState {
  tracks: CleanTracks | null;
  result: CleanResult | null;
  error: Error | null;
  /** The result is not of these steps yet. */ busy: boolean;
  /** Reads the tracks anew. */ again: () => void;
}

export function useClean(selection: Selection, steps: Step[], answers: Record<string, Answer>): CleanState {
  const [tracks, setTracks] = useState<CleanTracks | null>(null);
  const [error, setError] = useState<Error | null>(null);
  const [given, setGiven] = useState<{ run: number; result: CleanResult } | null>(null);
  const [asked, setAsked] = useState(0);
  const worker = useRef<StepsWorker | null>(null);
  const number = useRef(0);
  const { data: names } = useNameCounts();
  const key = JSON.stringify(selection);

  useEffect(() => {
    const own = new StepsWorker(
      () => new Worker(new URL('./worker.ts', import.meta.url), { type: 'module' }),
      setGiven,
      () => setError(new Error('Working out the steps broke off; reloading the page may help')),
    );
    worker.current = own;
    return () => {
      own.close();
      worker.current = null;
    };
  }, []);

  const [turn, setTurn] = useState(0);
  useServerEvents(['tracks', 'lists'], () => setTurn((n) => n + 1), 1500);
  useEffect(() => {
    let current = true;
    post<CleanTracks>('/clean/tracks', { selection: JSON.parse(key) as Selection }).then(
      (got) => {
        if (current) {
          setTracks(got);
          setError(null);
        }
      },
      (e: unknown) => {
        if (current) setError(e as Error);
      },
    );
    return () => {
      current = false;
    };
  }, [key, turn]);

  const send = (request: CleanRequest): void => worker.current?.send(request);
  useEffect(() => {
    if (tracks) send({ what: 'tracks', tracks: tracks.tracks });
  }, [tracks]);
  useEffect(() => {
    if (names) send({ what: 'names', names });
  }, [names]);
  useEffect(() => {
    if (!tracks || !names) return;
    const later = setTimeout(() => {
      number.current += 1;
      setAsked(number.current);
      send({ what: 'run', run: number.current, steps, answers });
    }, 60);
    return () => clearTimeout(later);
  }, [tracks, names, steps, answers]);

  return {
    tracks,
    result: given?.result ?? null,
    error,
    busy: given?.run !== asked,
    again: () => setTurn((n) => n + 1),
  };
}
