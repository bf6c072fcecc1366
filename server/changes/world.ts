/** The present state that a draft's items are compared with, locked for the length of a transaction. */
import type { Origins } from '@early-set/core/api/types';
import type { Transaction } from 'sequelize';
import type {
  ChangeItem,
  EditList,
  ListInfo,
  ListState,
  SetField,
  SetPicture,
  World,
} from '@early-set/core/changes/items';
import { fieldOf } from '@early-set/core/fields/table';
import type { FieldValue, Held, TrackValues } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
import { SEARCHED_SELECT } from '../library/columns.ts';
import { heldOf } from '../library/origins.ts';

export interface LoadedTrack {
  values: TrackValues;
  origins: Origins;
  artHash: string | null;
  unwritten: string[];
}

export interface LoadedWorld extends World {
  tracks: Map<number, LoadedTrack>;
  lists: Map<string, ListState>;
}

export const LIST_INFO_SELECT = 'kind, name, parent_id AS "parentId", position, removed, starts_at AS "startsAt"';

/** Loads and locks what the items touch. */
export async function loadWorld(
  database: Database,
  items: readonly ChangeItem[],
  t: Transaction,
): Promise<LoadedWorld> {
  const fieldItems = items.filter((i): i is SetField => i.kind === 'set-field');
  const listItems = items.filter((i): i is EditList => i.kind === 'edit-list');
  const pictureItems = items.filter((i): i is SetPicture => i.kind === 'set-picture');
  const tracks = await loadTracks(
    database,
    [...new Set([...fieldItems, ...pictureItems].map((i) => i.trackId))],
    [...new Set(fieldItems.map((i) => i.field))],
    t,
  );
  const lists = await loadLists(database, [...new Set(listItems.map((i) => i.listId))], t);
  return {
    tracks,
    lists,
    held: (trackId, field) => {
      const track = tracks.get(trackId);
      return track && heldOf(track.values[field], track.origins, field);
    },
    list: (id) => lists.get(id),
    picture: (trackId) => tracks.get(trackId)?.artHash,
  };
}

async function loadTracks(
  database: Database,
  ids: number[],
  fields: string[],
  t: Transaction,
): Promise<Map<number, LoadedTrack>> {
  if (ids.length === 0) return new Map();
  const touched = fields
    .map(fieldOf)
    .filter((f) => !f.searched)
    .map((f) => `t.${f.column} AS "${f.id}"`);
  const rows = await database.rows<
    { id: number; origins: Origins | null; artHash: string | null; unwritten: string[] | null } & Record<
      string,
      FieldValue
    >
  >(
    `SELECT t.id, o.origins, t.art_hash AS "artHash", t.unwritten, ${[SEARCHED_SELECT, ...touched].join(', ')} FROM tracks t LEFT JOIN track_origins o ON o.track_id = t.id WHERE t.id = ANY($1::int[]) ORDER BY t.id FOR UPDATE OF t`,
    [ids],
    t,
  );
  return new Map(
    rows.map(({ id, origins, artHash, unwritten, ...values }) => [
      id,
      { values, origins: origins ?? {}, artHash, unwritten: unwritten ?? [] },
    ]),
  );
}

/** Lists with their entries in order; the rows stay locked until the transaction ends. */
export async function loadLists(database: Database, ids: string[], t?: Transaction): Promise<Map<string, ListState>> {
  if (ids.length === 0) return new Map();
  const infos = await database.rows<{ id: string } & ListInfo>(
    `SELECT id, ${LIST_INFO_SELECT} FROM lists WHERE id = ANY($1::uuid[]) ORDER BY id ${t ? 'FOR UPDATE' : ''}`,
    [ids],
    t,
  );
  const entries = await database.rows<{ id: string; listId: string; trackId: number }>(
    'SELECT id, list_id AS "listId", track_id AS "trackId" FROM list_entries WHERE list_id = ANY($1::uuid[]) ORDER BY list_id, position, id',
    [ids],
    t,
  );
  const states = new Map<string, ListState>(infos.map(({ id, ...info }) => [id, { info, entries: [] }]));
  for (const { id, listId, trackId } of entries) states.get(listId)?.entries.push({ id, trackId });
  return states;
}

/** A held value as it will be, put into a loaded track. */
export function setHeld(track: LoadedTrack, field: string, held: Held | null): void {
  track.values[field] = held?.value ?? null;
  if (held) track.origins[field] = { origin: held.origin, at: held.at, locked: held.locked };
  else delete track.origins[field];
}
