/** What the server knows, kept fresh by its events. */
import { format, parseISO } from 'date-fns';
import { useEffect, useMemo, useState } from 'react';
import useSWR, { useSWRConfig, type SWRResponse } from 'swr';
import type { SpaceBy } from '@early-set/core/space/space';
import type {
  Duplicates,
  NotFound,
  Others,
  OutOfPlace,
  PutLook,
  Quarantine,
  RetireLook,
  Space,
} from '@early-set/core/api/disk';
import type { ComparisonAnswer, DestinationLine, SyncStep } from '@early-set/core/api/handover';
import type { WorkerLine } from '@early-set/core/api/workers';
import type { Choices } from '@early-set/core/sync/compareTracks';
import type { Description } from '@early-set/core/exchange/collection';
import type { ArchiveListing, FolderLook, ScanFigures } from '@early-set/core/api/intake';
import type { AirplayMonth, HourContents, HoursProgress, InsteadAnswer } from '@early-set/core/api/hours';
import type { BetterFile, ListHolding, ListOverview, ToFind } from '@early-set/core/api/lists';
import type {
  Browsed,
  ChangeSetDetails,
  ChangeSetLine,
  CheckList,
  CheckWhat,
  DateLine,
  Facets,
  FolderLine,
  ListContents,
  ListLine,
  NameCounts,
  NotTaken,
  Overview,
  Place,
  RootLine,
  RunFailure,
  RunProgress,
  SavedPreset,
  Selection,
  ServerEvent,
  SharedValue,
  SheetPage,
  TrackDetails,
} from '@early-set/core/api/types';
import type { BackupsHere } from '@early-set/core/api/backups';
import type { MusicCopyHere } from '@early-set/core/api/musicCopy';
import type { AccessAnswer } from '@early-set/core/api/access';
import type { BundleLine, BundleLook, BundleSteps } from '@early-set/core/api/bundles';
import type { DeskSettings } from '@early-set/core/api/settings';
import { localDay } from '@early-set/core/clock/clock';
import type { CatalogueState, GroupDetails, Lookup } from '@early-set/core/api/catalogue';
import type { Condition } from '@early-set/core/conditions/condition';
import type { StationFile } from '@early-set/core/hours/stationFiles';
import { askBytes, get, post } from './api.ts';
import { useAsked } from './asked.ts';
import { useServerEvents } from './events.ts';

/** So often progress is asked for that nobody tells by itself. */
const PROGRESS_MS = 400;

export function useFresh<T>(
  path: string | null,
  kinds: readonly ServerEvent['kind'][],
  pauseMs = 0,
): SWRResponse<T, Error> {
  const answer = useSWR<T, Error>(path, get, {
    keepPreviousData: true,
    revalidateOnFocus: false,
    dedupingInterval: 200,
  });
  useServerEvents(kinds, () => void answer.mutate(), pauseMs);
  return answer;
}

export const useOverview = () =>
  useFresh<Overview>('/overview', ['tracks', 'roots', 'lists', 'changes', 'dates', 'settings', 'destinations']);
export const useDestinations = () => useFresh<DestinationLine[]>('/destinations', ['destinations']);
/** What each kind of destination can store. */
export const useDestinationKinds = () => useSWR<Description[], Error>('/destinations/kinds', get);
/** The library beside a destination; compared anew soon after either has changed. */
export function useComparison(id: number | null, choices: Choices): SWRResponse<ComparisonAnswer, Error> {
  const answer = useSWR<ComparisonAnswer, Error>(
    id === null ? null : ['compare', id, choices],
    () => post<ComparisonAnswer>(`/destinations/${id}/compare`, { choices }),
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  useServerEvents(COMPARED_BY, () => void answer.mutate(), COMPARE_PAUSE_MS);
  return answer;
}
/** How far the comparing or applying that is under way is; null where none is. */
export const useSyncStep = (id: number | null) =>
  useSWR<{ step: SyncStep | null }, Error>(id === null ? null : `/destinations/${id}/step`, get, {
    refreshInterval: PROGRESS_MS,
    dedupingInterval: 0,
  }).data?.step ?? null;
const COMPARED_BY: readonly ServerEvent['kind'][] = ['tracks', 'lists', 'destinations', 'settings'];
const COMPARE_PAUSE_MS = 2000;
export const useRuns = () => useFresh<RunProgress[]>('/runs', ['run']);
export const useRunFailures = (id: number | null) =>
  useFresh<RunFailure[]>(id === null ? null : `/runs/${id}/failures`, ['run']);
export const useWorkers = () => useFresh<WorkerLine[]>('/workers', ['workers']);
/** What a scan came to, and what has become of it since. */
export const useScanFigures = (runId: number | null) =>
  useFresh<ScanFigures>(runId === null ? null : `/runs/${runId}/scan`, ['run', 'tracks']);
export const useRoots = () => useFresh<RootLine[]>('/roots', ['roots', 'tracks']);
export const useNotTaken = (rootId: number | null) =>
  useFresh<NotTaken[]>(rootId === null ? null : `/roots/${rootId}/not-taken`, ['roots']);
/** What an archive of a library folder holds. */
export const useArchive = (rootId: number, path: string | null) =>
  useFresh<ArchiveListing>(path === null ? null : `/roots/${rootId}/archive?path=${encodeURIComponent(path)}`, []);
export const usePlaces = (open: boolean) => useFresh<Place[]>(open ? '/places' : null, []);
export const useBrowse = (path: string | null) =>
  useFresh<Browsed>(path === null ? null : `/places/browse?path=${encodeURIComponent(path)}`, []);
/** One track, as it was last asked to be. */
export function useTrack(id: number | null): { data: TrackDetails | undefined; error: Error | undefined } {
  const { data, error } = useFresh<TrackDetails>(id === null ? null : `/tracks/${id}`, ['tracks', 'lists', 'changes']);
  const shown = useAsked(useMemo(() => (data ? [data] : []), [data]));
  return { data: useMemo(() => data && shown(data), [data, shown]), error };
}
export const useCheckList = (what: CheckWhat, below: number) =>
  useFresh<CheckList>(`/check?what=${what}&below=${below}`, ['tracks', 'changes']);
/** Text as it stands for a moment: what is being typed is not asked for letter by letter. */
function useSettled(text: string): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(text), 200);
    return () => clearTimeout(timer);
  }, [text]);
  return settled;
}
/** The lists that hold tracks with these words, and how many. */
export function useListsHolding(text: string) {
  const settled = useSettled(text.trim());
  return useFresh<ListHolding[]>(settled.length < 2 ? null : `/lists/holding?text=${encodeURIComponent(settled)}`, [
    'lists',
  ]);
}
/** How many tracks meet a condition, and the first of them. */
export function useMatching(where: Condition, order: { by: string; descending: boolean } | null) {
  const asked = new URLSearchParams({
    limit: '5',
    where: JSON.stringify(where),
    ...(order ? { sort: order.by, descending: String(order.descending) } : {}),
  }).toString();
  return useFresh<SheetPage>(`/tracks?${useSettled(asked)}`, ['tracks', 'lists']);
}
export const useListOverview = () =>
  useFresh<ListOverview[]>('/lists/overview', ['lists', 'tracks', 'dates', 'settings'], 1000);
export const useLists = () => useFresh<ListLine[]>('/lists', ['lists']);
export const useList = (id: string | null) =>
  useFresh<ListContents>(id === null ? null : `/lists/${id}`, ['lists', 'tracks']);
export const useChanges = (limit: number, search = '', area = '') =>
  useFresh<ChangeSetLine[]>(
    `/changes?${new URLSearchParams({ limit: String(limit), ...(search ? { search } : {}), ...(area ? { area } : {}) }).toString()}`,
    ['changes'],
  );
/** An hour, timed and judged. */
export const useHour = (id: string) => useFresh<HourContents>(`/hours/${id}`, ['lists', 'tracks']);
/** How far hours are that are made under a name. */
export const useHoursProgress = (making: string | null) =>
  useSWR<HoursProgress | null, Error>(making && `/hours-making/${making}`, (path: string) => get(path), {
    refreshInterval: PROGRESS_MS,
  });
/** Files from which spoken items, links and jingles are played. */
export const useStationFiles = () => useFresh<StationFile[]>('/station-files', ['tracks']);
/** What could go to a place of an hour; null: none is asked for. */
export const useInstead = (id: string, entryId: string | null) =>
  useFresh<InsteadAnswer>(entryId === null ? null : `/hours/${id}/instead/${entryId}`, ['lists', 'tracks'], 1000);
/** What was told of other places is of the hour as it was: it is not shown again once anything has changed. */
export function useInsteadForgotten(id: string, inHand: string | null): void {
  const { mutate } = useSWRConfig();
  useServerEvents(['lists', 'tracks'], () => {
    const places = `/hours/${id}/instead/`;
    const isOther = (key: unknown): boolean =>
      typeof key === 'string' && key.startsWith(places) && key !== `${places}${inHand}`;
    void mutate(isOther, undefined, { revalidate: false });
  });
}
/** What was on air in a month, "2026-12". */
export const useAirplay = (month: string) => useFresh<AirplayMonth>(`/airings/${month}`, ['changes', 'tracks']);
/** Tracks whose files cannot be found. */
export const useNotFound = () => useFresh<NotFound>('/disk/not-found', ['tracks', 'roots', 'lists', 'dates'], 1000);
export const useDuplicates = () => useFresh<Duplicates>('/disk/duplicates', ['tracks', 'lists', 'settings'], 1000);
/** What does not lie where its naming rule wants it. */
export const useOutOfPlace = () => useFresh<OutOfPlace>('/disk/places', ['tracks', 'roots', 'lists', 'settings'], 1000);
export const useQuarantine = () => useFresh<Quarantine>('/disk/quarantine', ['tracks', 'roots'], 1000);
export const useOthers = () => useFresh<Others>('/disk/others', ['tracks', 'roots'], 1000);
export const useSpace = (by: SpaceBy) => useFresh<Space>(`/disk/space?by=${by}`, ['tracks', 'roots', 'lists'], 1000);
/** What putting files into quarantine would do. */
export function useRetireLook(selection: Selection | null): SWRResponse<RetireLook, Error> {
  const text = JSON.stringify(selection);
  return useSWR<RetireLook, Error>(selection && ['retire', text], () => post('/disk/retire/look', { selection }));
}
/** What putting files into a folder would do; asked anew when the wish has stood still for a moment. */
export function usePutLook(wish: object | null): SWRResponse<PutLook, Error> {
  const text = useSettled(JSON.stringify(wish));
  return useSWR<PutLook, Error>(wish && ['put', text], () => post('/disk/put/look', JSON.parse(text) as object), {
    revalidateOnFocus: false,
    shouldRetryOnError: false,
  });
}
/** What lies in a folder outside; it is read once, and again when it is opened again. */
export const useFolderLook = (path: string): SWRResponse<FolderLook, Error> =>
  useSWR<FolderLook, Error>(path && ['look', path], () => post('/places/look', { path }), {
    revalidateOnFocus: false,
    revalidateOnReconnect: false,
    shouldRetryOnError: false,
  });
export const useToFind = () => useFresh<ToFind[]>('/lists/to-find', ['lists']);
/** Of a copy of the music, and what is on it. */
export const useMusicCopy = () =>
  useFresh<MusicCopyHere>('/music-copy', ['run', 'settings', 'destinations', 'changes', 'roots'], COPY_PAUSE_MS);
/** All that was copied is counted for it. */
const COPY_PAUSE_MS = 1000;
export const useBackups = () => useFresh<BackupsHere>('/backups', ['run', 'settings']);
export const useBundlesIn = (folder: string | null) =>
  useFresh<BundleLine[]>(folder === null ? null : `/bundles/in?path=${encodeURIComponent(folder)}`, ['run']);
export const useBundleLook = (path: string | null) =>
  useFresh<BundleLook>(path === null ? null : `/bundles/look?path=${encodeURIComponent(path)}`, ['tracks', 'lists']);
export const useBundleSteps = () =>
  useFresh<BundleSteps>('/bundles/steps', ['roots', 'tracks', 'run', 'destinations'], 1000);
export const useAccess = () => useFresh<AccessAnswer>('/access', []);
export const useSettings = () => useFresh<DeskSettings>('/settings', ['settings']);
export const useChangeSet = (id: number | null) =>
  useFresh<ChangeSetDetails>(id === null ? null : `/changes/${id}`, ['changes']);
export const useFacets = (filters: Record<string, Condition>) =>
  useFresh<Facets>(`/facets?filters=${encodeURIComponent(JSON.stringify(filters))}`, ['tracks'], 1500);

export interface WaveformData {
  data: Uint8Array;
  rate: number;
}

/** The waveform of a measured track; null while there is none. */
export function useWaveform(id: number | null): WaveformData | null {
  const { data } = useSWR<WaveformData | null>(
    id === null ? null : ['waveform', id],
    async () => {
      const answer = await askBytes(`/tracks/${id}/waveform`);
      return answer && { data: answer.data, rate: Number(answer.headers.get('X-Columns-Per-Second')) };
    },
    { revalidateOnFocus: false, dedupingInterval: 5000 },
  );
  return data ?? null;
}

/** What chosen tracks share; null selection: nothing is asked. */
export function useShared(
  selection: Selection | null,
): SWRResponse<{ tracks: number; fields: Record<string, SharedValue> }, Error> {
  const key = selection && JSON.stringify(selection);
  const answer = useSWR<{ tracks: number; fields: Record<string, SharedValue> }, Error>(
    key === null ? null : ['shared', key],
    () => post('/fields/shared', { selection }),
    { keepPreviousData: true, revalidateOnFocus: false },
  );
  useServerEvents(
    ['tracks'],
    () => {
      if (key !== null) void answer.mutate();
    },
    400,
  );
  return answer;
}

/** Dates ahead of today, or past ones. */
export const useDates = (past: boolean) =>
  useFresh<DateLine[]>(
    `/dates?today=${localDay(new Date())}${past ? '&past=true' : ''}`,
    ['dates', 'lists', 'tracks', 'settings'],
    600,
  );
/** Dates to come and past ones, by number, as they are named where one is chosen. */
export function useDateNames(): ReadonlyMap<number, string> {
  const { data: ahead = [] } = useDates(false),
    { data: past = [] } = useDates(true);
  return new Map([...ahead, ...past].map((d) => [d.id, `${d.name}, ${format(parseISO(d.day), 'd MMM yyyy')}`]));
}
/** So many entries are looked through for better files. */
const MAX_BETTER = 500;

/** Better files of some entries of a list. */
export const useBetterFiles = (listId: string, entryIds: readonly string[]) =>
  useFresh<BetterFile[]>(
    entryIds.length > 0 && entryIds.length <= MAX_BETTER
      ? `/lists/${listId}/better?entries=${encodeURIComponent(JSON.stringify(entryIds))}`
      : null,
    ['lists', 'tracks'],
    1500,
  );
export const usePresets = () => useFresh<SavedPreset[]>('/presets', ['presets']);
export const useFolders = (open: boolean) => useFresh<FolderLine[]>(open ? '/clean/folders' : null, ['roots']);
/** Names that the library knows; asked for again when tracks change, but not often. */
export const useNameCounts = () => useFresh<NameCounts>('/clean/names', ['tracks'], 5000);
export const useGenreCounts = (open: boolean) => useFresh<NameCounts>(open ? '/clean/genres' : null, ['tracks'], 5000);

export const useCatalogue = () => useFresh<CatalogueState>('/catalogue', ['catalogue']);
export const useLookup = (id: number | null) =>
  useFresh<Lookup>(id === null ? null : `/lookups/${id}`, ['catalogue', 'changes'], 300);
export const useLookupGroup = (lookupId: number | null, groupId: number | null) =>
  useFresh<GroupDetails>(
    lookupId === null || groupId === null ? null : `/lookups/${lookupId}/groups/${groupId}`,
    ['catalogue', 'changes', 'tracks'],
    300,
  );
