/** Open slots of an hour filled, and tracks of an hour replaced. */
import { randomInt, randomUUID } from 'node:crypto';
import type { HourFilling, InsteadAnswer } from '@early-set/core/api/hours';
import type { Applied } from '@early-set/core/api/types';
import type { ChangeItem } from '@early-set/core/changes/items';
import { addEntry, describeEntry, removeEntries, swapEntry } from '@early-set/core/changes/lists';
import type { EntryData } from '@early-set/core/changes/snapshot';
import { endData } from '@early-set/core/hours/kept';
import { Problem } from '../base/problem.ts';
import { applyDraft, type Applying } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { quoted, several, stateOf } from '../lists/lists.ts';
import type { HourPool } from './hourPool.ts';
import { itemsOfState, judged, numberOf, rounded, textOf, titleOf } from './hours.ts';
import { airedBetween, hourState, libraryFor, lineOf, reachOf, type HourState } from './load.ts';

/** What filling the open slots of an hour would do. @throws Problem when none is open */
export async function hourFilling(database: Database, pool: HourPool, id: string): Promise<HourFilling> {
  const hour = await hourState(database, id);
  const { clock, hourAt } = hour,
    items = itemsOfState(hour);
  if (!items.some((i) => i.kind === 'open')) throw new Problem(409, 'nothing-to-do', 'No slot of this hour is open');
  const world = await worldOf(database, hour);
  const answer = await pool.run({ task: 'refill', hourAt, clock, items, ...world });
  const now = 'hours' in answer ? answer.hours[0]! : [];
  const after = await judged(database, hour, now);
  const rows = new Map(world.library.map((t) => [t.id, t.values]));
  const filling: HourFilling = {
    places: [],
    ends: [],
    open: now.filter((i) => i.kind === 'open').length,
    off: after.times.landings.at(-1)!.off,
    broken: after.judgements.filter((j) => j.state === 'broken').map((j) => j.text),
  };
  for (const [place, item] of now.entries()) {
    const entryId = hour.items[place]!.entry.id;
    if (item.kind !== 'track') continue;
    const { to = null } = endData(item.track, item.seconds);
    const values = rows.get(item.track.id);
    if (items[place]!.kind === 'open')
      filling.places.push({
        entryId,
        trackId: item.track.id,
        title: titleOf(values),
        artist: textOf(values?.artist),
        to,
      });
    else if (to !== (hour.items[place]!.entry.data.to ?? null)) filling.ends.push({ entryId, to });
  }
  return filling;
}

async function worldOf(database: Database, { id, clock, hourAt }: HourState) {
  const reach = reachOf(clock.rules);
  const [around, world] = await Promise.all([
    airedBetween(database, hourAt - reach, hourAt + clock.seconds + reach, new Set([id])),
    libraryFor(database, [clock]),
  ]);
  return {
    ...world,
    aired: around.map(({ at, track }) => ({ at, track: lineOf(track) })),
    seed: randomInt(1, 2 ** 31 - 1),
  };
}

/** So many tracks that could go to a place are told. */
const MAX_INSTEAD = 60;

/** What could go to a place of an hour. @throws Problem when nothing can */
export async function insteadOf(
  database: Database,
  pool: HourPool,
  id: string,
  entryId: string,
): Promise<InsteadAnswer> {
  const hour = await hourState(database, id);
  const place = hour.items.findIndex((i) => i.entry.id === entryId);
  const item = hour.items[place]?.item;
  if (item?.kind !== 'track' && item?.kind !== 'open')
    throw new Problem(409, 'no-place', 'Only a track or an open slot can be replaced by a track');
  const { clock, hourAt } = hour,
    items = itemsOfState(hour);
  const world = await worldOf(database, hour);
  const answer = await pool.run({ task: 'instead', hourAt, clock, items, place, most: MAX_INSTEAD, ...world });
  const values = new Map(world.library.map((t) => [t.id, t.values]));
  const next = items.slice(place + 1).find((i) => i.fixed);
  return {
    entryId,
    next: { name: next?.name ?? 'end of the hour', at: hourAt + (next?.fixed?.at ?? clock.seconds) },
    tracks: ('found' in answer ? answer.found : []).map(({ trackId, off, broken }) => ({
      trackId,
      title: titleOf(values.get(trackId)),
      artist: textOf(values.get(trackId)?.artist),
      seconds: numberOf(values.get(trackId)?.durationSeconds) ?? 0,
      off,
      broken: broken.map((b) => b.text),
      hard: broken.some((b) => b.hard),
    })),
  };
}

/** Tracks for places of an hour, and ends of tracks. */
export interface PlacesWish {
  places: { entryId: string; trackId: number; to: number | null }[];
  ends: { entryId: string; to: number | null }[];
}

/** Puts tracks into places, and moves ends. */
export async function fillPlaces(context: Applying, id: string, wish: PlacesWish): Promise<Applied> {
  const state = await stateOf(context.database, id);
  const items: ChangeItem[] = wish.places.flatMap(({ entryId, trackId, to }) => {
    const edits = swapEntry(id, state, entryId, trackId, randomUUID, to === null ? {} : { to });
    return edits;
  });
  for (const { entryId, to } of wish.ends) items.push(...describeEntry(id, state, entryId, { to }));
  const { places } = wish;
  const title =
    places.length > 0
      ? `Fill ${several(places.length, 'slot')} of ${quoted(state.info.name)}`
      : `Ends in ${quoted(state.info.name)}`;
  return (await applyDraft(context, { title, items })).applied;
}

/** Takes a track out of its place, which stays open. */
export async function openPlaces(context: Applying, id: string, entryIds: readonly string[]): Promise<Applied> {
  const { database } = context;
  const hour = await hourState(database, id);
  const state = await stateOf(database, id);
  const items: ChangeItem[] = [];
  for (const [at, entry] of state.entries.entries()) {
    const item = hour.items.find((i) => i.entry.id === entry.id)?.item;
    if (!entryIds.includes(entry.id) || item?.kind !== 'track') continue;
    const { fixedAt, notBefore, slot } = entry.data;
    const data: EntryData = {
      ...(fixedAt === undefined ? {} : { fixedAt }),
      ...(notBefore === undefined ? {} : { notBefore }),
      ...(slot === undefined ? {} : { slot }),
      text: item.name,
      seconds: rounded(item.seconds),
      reason: 'not filled yet',
    };
    items.push(
      ...addEntry(id, state, { kind: 'open slot', trackId: null, data }, randomUUID, at),
      ...removeEntries(id, state, [entry.id]),
    );
  }
  const n = items.length / 2;
  return (await applyDraft(context, { title: `Open ${several(n, 'slot')} of ${quoted(state.info.name)}`, items }))
    .applied;
}
