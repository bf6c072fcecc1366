/** What tracks hold, read and stored for everybody: values with their origins, times and locks. */
import type { Origins } from '@early-set/core/api/types';
import type { Transaction } from 'sequelize';
import { fieldOf } from '@early-set/core/fields/table';
import type { FieldValue, Held, TrackValues } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
import { heldOf } from './held.ts';
import { SEARCHED_SELECT, storeValues, valueOf } from './columns.ts';

export interface StoredTrack {
  values: TrackValues;
  origins: Origins;
  artHash: string | null;
  /** Fields that the file does not say yet. */
  unwritten: string[];
}

/** The stored form of a held value's history. */
export const originOf = ({ origin, at, locked }: Held): Origins[string] => ({
  origin,
  at,
  ...(locked ? { locked: true } : {}),
});

/** Locked fields of a track. */
export const lockedIn = (origins: Origins | null): string[] =>
  Object.entries(origins ?? {})
    .filter(([, o]) => o.locked)
    .map(([field]) => field);

/** Given fields of tracks, with all that is searched; the rows stay locked where a transaction is given. */
export async function loadTracks(
  database: Database,
  ids: readonly number[],
  fields: readonly string[],
  t?: Transaction,
): Promise<Map<number, StoredTrack>> {
  if (ids.length === 0) return new Map();
  const wanted = [...new Set(fields)]
    .map(fieldOf)
    .filter((f) => !f.searched)
    .map((f) => `${valueOf(f)} AS "${f.id}"`);
  type Row = {
    trackId: number;
    origins: Origins | null;
    artHash: string | null;
    unwrittenFields: string[] | null;
  } & Record<string, FieldValue>;
  const rows = await database.rows<Row>(
    `SELECT t.id AS "trackId", o.origins, t.art_hash AS "artHash", t.unwritten AS "unwrittenFields",
      ${[SEARCHED_SELECT, ...wanted].join(', ')}
     FROM tracks t LEFT JOIN track_origins o ON o.track_id = t.id WHERE t.id = ANY($1::int[])
       ORDER BY t.id ${t ? 'FOR UPDATE OF t' : ''}`,
    [[...ids]],
    t,
  );
  return new Map(
    rows.map(({ trackId, origins, artHash, unwrittenFields, ...values }) => [
      trackId,
      { values, origins: origins ?? {}, artHash, unwritten: unwrittenFields ?? [] },
    ]),
  );
}

/**
 * Locks tracks until the transaction ends. Whoever changes rows that belong to tracks (their files, what these say, the
 * lines of changes) does this first: with one order for all, two transactions never wait for each other.
 */
export const lockTracks = (database: Database, ids: readonly number[], t: Transaction): Promise<void> =>
  database.run('SELECT id FROM tracks WHERE id = ANY($1::int[]) ORDER BY id FOR UPDATE', [[...ids]], t);

/** What tracks hold now, of some fields; null where nothing is known. */
export async function heldNow(
  database: Database,
  ids: readonly number[],
  fields: readonly string[],
): Promise<(trackId: number, field: string) => Held | null> {
  const tracks = await loadTracks(database, [...new Set(ids)], fields);
  return (trackId, field) => {
    const track = tracks.get(trackId);
    return track ? heldOf(track.values[field], track.origins, field) : null;
  };
}

export interface ChangedTrack {
  id: number;
  /** Fields with what they hold from now on; null: nothing, and nobody set it. */
  held: Readonly<Record<string, Held | null>>;
  /** Values that have no origin: what is worked out or technical. */
  plain?: TrackValues;
  /** All searched fields as they are before; those in `held` and `plain` are laid over them. */
  values: TrackValues;
}

/** Stores changed values with their origins. */
export async function storeTracks(database: Database, changes: readonly ChangedTrack[], t: Transaction): Promise<void> {
  await storeValues(
    database,
    changes.map(({ id, held, plain = {}, values }) => {
      const changed: TrackValues = {
        ...plain,
        ...Object.fromEntries(Object.entries(held).map(([field, h]) => [field, h?.value ?? null])),
      };
      return { id, changed, all: { ...values, ...changed } };
    }),
    t,
  );
  await storeOrigins(
    database,
    changes.map(({ id, held }) => ({
      id,
      origins: Object.fromEntries(Object.entries(held).map(([field, h]) => [field, h && originOf(h)])),
    })),
    t,
  );
}

/** Merges changed origins into those stored; null takes a field's origin away. */
async function storeOrigins(
  database: Database,
  rows: readonly { id: number; origins: Record<string, Origins[string] | null> }[],
  t: Transaction,
): Promise<void> {
  const filled = rows.filter((r) => Object.keys(r.origins).length > 0);
  for (let from = 0; from < filled.length; from += 1000) {
    const batch = filled.slice(from, from + 1000).map(({ id, origins }) => ({ track_id: id, origins }));
    await database.run(
      `INSERT INTO track_origins (track_id, origins)
       SELECT track_id, origins FROM jsonb_to_recordset($1::jsonb) AS v(track_id int, origins jsonb)
       ON CONFLICT (track_id) DO UPDATE SET origins = jsonb_strip_nulls(track_origins.origins || excluded.origins)`,
      [JSON.stringify(batch)],
      t,
    );
  }
}
