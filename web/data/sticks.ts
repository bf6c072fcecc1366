/** Sticks: what the page knows of them. */
import useSWR, { type SWRResponse } from 'swr';
import type { StickAnswer, StickLine, StickStep } from '@early-set/core/api/stick';
import type { ServerEvent } from '@early-set/core/api/types';
import type { Player } from '@early-set/core/stick/player';
import { get, post } from './api.ts';
import { useServerEvents } from './events.ts';
import { useFresh } from './hooks.ts';

export const useSticks = () => useFresh<StickLine[]>('/sticks', ['destinations']);
export const usePlayers = () => useSWR<Player[], Error>('/sticks/players', get);

const LOOKED_BY: readonly ServerEvent['kind'][] = ['tracks', 'lists', 'dates', 'destinations'];
const LOOK_PAUSE_MS = 1500;

/** What writing a stick would do, with the files of a list; looked at anew soon after anything changed. */
export function useStick(id: number | null, listId: string | null): SWRResponse<StickAnswer, Error> {
  const answer = useSWR<StickAnswer, Error>(
    id === null ? null : ['stick', id, listId],
    () => post<StickAnswer>(`/sticks/${id}/look`, { listId }),
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  useServerEvents(LOOKED_BY, () => void answer.mutate(), LOOK_PAUSE_MS);
  return answer;
}

const PROGRESS_MS = 500;
/** How far verifying is; null where none is under way. */
export const useStickStep = (id: number | null) =>
  useSWR<{ step: StickStep | null }, Error>(id === null ? null : `/sticks/${id}/step`, get, {
    refreshInterval: PROGRESS_MS,
    dedupingInterval: 0,
  }).data?.step ?? null;
