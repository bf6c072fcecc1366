/** Another collection as it is looked through: what of it is here already, what is new, what cannot be found. */
import { access } from 'node:fs/promises';
import type { SourceKey, TakeLook, TakeQuestion, TakeRow, TakeState } from '@early-set/core/api/take';
import type { OtherTrack } from '@early-set/core/exchange/collection';
import { isEmpty, type FieldValue } from '@early-set/core/fields/values';
import { nameOf } from '@early-set/core/files/paths';
import { placeHere, tieByNames, tieByPlace } from '@early-set/core/sync/match';
import { inComment } from '@early-set/core/take/inComment';
import { inParallel } from '../intake/context.ts';
import { readValues, tracksHere, valuesFor } from '../handover/library.ts';
import { tiesOf } from '../handover/ties.ts';
import { openSource, sourceStamp, type Source, type SourceTools } from './sources.ts';

/** So many rows are shown at a time. */
export const MAX_ROWS = 2000;
const PARALLEL = 16;
const FRESH_MS = 30_000;
/** So many collections are kept as they were read. */
const KEPT = 3;

/** A collection beside the library. */
export interface Looked extends Source {
  /** Track here by id there. */
  tied: ReadonlyMap<string, number>;
  /** Those of which the library has another encoding. */
  inexact: ReadonlySet<string>;
  names: ReadonlyMap<number, string>;
  byId: ReadonlyMap<string, OtherTrack>;
}

interface Kept {
  stamp: string;
  looked: Promise<Looked>;
}

/** Reads collections, and keeps the last ones while neither they nor the library change. */
export class Looks {
  readonly #kept = new Map<SourceKey, Kept>();
  readonly #tools: SourceTools;

  constructor(tools: SourceTools) {
    this.#tools = tools;
  }

  async of(key: SourceKey): Promise<Looked> {
    const stamp = `${await sourceStamp(this.#tools, key)} ${await this.#libraryStamp()}`;
    const kept = this.#kept.get(key);
    if (kept?.stamp === stamp) return kept.looked;
    const looked = lookAt(this.#tools, key);
    this.#kept.delete(key);
    this.#kept.set(key, { stamp, looked });
    looked.catch(() => this.#kept.delete(key));
    for (const old of [...this.#kept.keys()].slice(0, -KEPT)) this.#kept.delete(old);
    return looked;
  }

  /** Another one when tracks came, went, or were taken. */
  async #libraryStamp(): Promise<string> {
    const [row] = await this.#tools.database.rows<{ stamp: string }>(
      `SELECT concat_ws(' ', (SELECT count(*) FROM tracks), (SELECT max(id) FROM tracks),
        (SELECT count(*) FROM taken_tracks)) AS stamp`,
    );
    // Names and places of files may have changed without any of this.
    return `${row!.stamp} ${Math.floor(Date.now() / FRESH_MS)}`;
  }
}

/** Reads a collection and says what of it is here. */
export async function lookAt(tools: SourceTools, key: SourceKey, signal?: AbortSignal): Promise<Looked> {
  const source = await openSource(tools, key, signal);
  const here = await tracksHere(tools.database);
  const ties = await tiesOf(tools.database, key);
  const past = [...source.ties, ...ties];
  const tying = tieByPlace(here, source.collection.tracks, past, source.maps);
  if (tying.others.size > 0) {
    const ids = [...tying.free.keys()];
    tieByNames(tying, readValues(await valuesFor(tools.database, ids, 'names')));
  }
  const { tied } = tying;
  const wanted = new Set(tied.values());
  return {
    ...source,
    tied,
    inexact: new Set(ties.filter((t) => !t.sameFile).map((t) => t.otherId)),
    names: new Map(here.flatMap((t) => (wanted.has(t.id) ? [[t.id, t.name] as const] : []))),
    byId: new Map(source.collection.tracks.map((t) => [t.id, t])),
  };
}

/** Answers a question of the page. @param moods as the library spells them */
export async function lookThrough(
  looked: Looked,
  { list, find, state, sort, basket }: Omit<TakeQuestion, 'source'>,
  moods: readonly string[],
): Promise<TakeLook> {
  const { key, name, what, onThisMachine, listKind, collection, tied, byId } = looked;
  const states = await statesOf(looked);
  const counts: Record<TakeState, number> = { new: 0, here: 0, 'not found': 0 };
  for (const one of states.values()) counts[one]++;
  const chosen =
    list === null
      ? collection.tracks
      : (collection.lists.find((l) => l.id === list)?.trackIds ?? []).flatMap((id) => byId.get(id) ?? []);
  const words = find.toLowerCase().split(/\s+/).filter(Boolean);
  const matching = [...new Set(chosen)].filter(
    (t) => (state === null || states.get(t.id) === state) && matches(t, words),
  );
  if (sort) matching.sort(bySort(sort));
  return {
    ...{ source: key, name, what, onThisMachine, listKind, counts },
    lists: collection.lists.map(({ id, name: called, place, trackIds }) => ({
      ...{ id, name: called, place, tracks: trackIds.length },
      fresh: trackIds.filter((t) => byId.has(t) && !tied.has(t)).length,
    })),
    rows: matching.slice(0, MAX_ROWS).map((track) => rowOf(looked, track, states.get(track.id)!)),
    more: Math.max(0, matching.length - MAX_ROWS),
    problems: collection.problems.slice(0, 500),
    basket: counted(looked, basket),
    inComments: collection.tracks.filter(({ values }) => {
      const said = inComment(typeof values.comment === 'string' ? values.comment : null, moods);
      return said.energy !== null || said.moods.length > 0;
    }).length,
  };
}

/** The tracks that a choice means, each once. */
export const wantedTracks = (
  { collection, byId }: Looked,
  { tracks, lists }: { tracks: readonly string[]; lists: readonly string[] },
): string[] => [
  ...new Set(
    [...tracks, ...collection.lists.flatMap((l) => (lists.includes(l.id) ? l.trackIds : []))].filter((id) =>
      byId.has(id),
    ),
  ),
];

function counted(looked: Looked, basket: TakeQuestion['basket']): TakeLook['basket'] {
  const wanted = wantedTracks(looked, basket);
  return { tracks: wanted.length, fresh: wanted.filter((id) => !looked.tied.has(id)).length };
}

const existing = new WeakMap<Looked, Promise<Map<string, TakeState>>>();
/** What each of its tracks is; files are looked for once. */
function statesOf(looked: Looked): Promise<Map<string, TakeState>> {
  const known = existing.get(looked);
  if (known) return known;
  const { collection, tied, onThisMachine, maps } = looked;
  const found = inParallel(collection.tracks, PARALLEL, async ({ id, path }): Promise<[string, TakeState]> => {
    if (tied.has(id)) return [id, 'here'];
    if (!onThisMachine) return [id, 'new'];
    const there =
      path !== '' &&
      (await access(placeHere(path, maps)).then(
        () => true,
        () => false,
      ));
    return [id, there ? 'new' : 'not found'];
  }).then((states) => new Map(states));
  existing.set(looked, found);
  return found;
}

function rowOf({ tied, names, onThisMachine, maps }: Looked, track: OtherTrack, state: TakeState): TakeRow {
  const trackId = tied.get(track.id);
  return {
    ...{ id: track.id, values: track.values, state },
    path: onThisMachine && track.path !== '' ? placeHere(track.path, maps) : null,
    here: trackId === undefined ? null : { trackId, name: names.get(trackId) ?? '' },
  };
}

function matches({ values, path }: OtherTrack, words: readonly string[]): boolean {
  if (words.length === 0) return true;
  const { title, artist, version, album, genre, label, comment } = values;
  const text = [title, artist, version, album, genre, label, comment, nameOf(path)].flat().join(' ').toLowerCase();
  return words.every((word) => text.includes(word));
}

const COLLATOR = new Intl.Collator('en', { numeric: true, sensitivity: 'base' });
/** Empty ones last, either way. */
function bySort({ field, descending }: NonNullable<TakeQuestion['sort']>) {
  const text = (value: FieldValue): string => [value].flat().join('; ');
  return (a: OtherTrack, b: OtherTrack): number => {
    const [one, other] = [a.values[field] ?? null, b.values[field] ?? null];
    if (isEmpty(one) || isEmpty(other)) return Number(isEmpty(one)) - Number(isEmpty(other));
    const order =
      typeof one === 'number' && typeof other === 'number' ? one - other : COLLATOR.compare(text(one), text(other));
    return descending ? -order : order;
  };
}
