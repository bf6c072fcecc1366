/** Other collections: which there are, and one as it is looked through. */
import useSWR, { type SWRResponse } from 'swr';
import type { SourceLine, TakeLook, TakeQuestion } from '@early-set/core/api/take';
import { post } from './api.ts';
import { useServerEvents } from './events.ts';
import { useFresh } from './hooks.ts';

export const useSources = () => useFresh<SourceLine[]>('/take/sources', ['destinations']);

const LOOKED_BY = ['tracks', 'destinations'] as const;
const PAUSE_MS = 1500;

export function useTakeLook(question: TakeQuestion | null): SWRResponse<TakeLook, Error> {
  const answer = useSWR<TakeLook, Error>(
    question === null ? null : ['take', question],
    () => post<TakeLook>('/take/look', question!),
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  useServerEvents(LOOKED_BY, () => void answer.mutate(), PAUSE_MS);
  return answer;
}

/** Where a track of another collection is heard, and its picture is. */
export const soundOf = (source: string, track: string): string => outsideAddress('sound', source, track);
export const pictureOf = (source: string, track: string): string => outsideAddress('picture', source, track);
const outsideAddress = (what: string, source: string, track: string): string =>
  `/api/take/${what}?${new URLSearchParams({ source, track }).toString()}`;
