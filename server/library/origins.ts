/** Where the values of tracks come from: one JSON object per track, field id to origin, time and lock. */
import type { Origins } from '@early-set/core/api/types';
import type { Transaction } from 'sequelize';
import type { FieldValue, Held } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';

/** Puts value and origin together; null when the field was never filled. */
export const heldOf = (value: FieldValue | undefined, origins: Origins, field: string): Held | null => {
  const known = origins[field];
  return known ? { value: value ?? null, origin: known.origin, at: known.at, locked: known.locked ?? false } : null;
};

/** Merges changed origins into those stored; null takes a field's origin away. */
export async function storeOrigins(
  database: Database,
  rows: { id: number; origins: Record<string, Origins[string] | null> }[],
  transaction: Transaction,
): Promise<void> {
  for (let from = 0; from < rows.length; from += 1000) {
    const batch = rows.slice(from, from + 1000).map(({ id, origins }) => ({ track_id: id, origins }));
    await database.run(
      `INSERT INTO track_origins (track_id, origins)
       SELECT track_id, origins FROM jsonb_to_recordset($1::jsonb) AS v(track_id int, origins jsonb)
       ON CONFLICT (track_id) DO UPDATE SET origins = jsonb_strip_nulls(track_origins.origins || excluded.origins)`,
      [JSON.stringify(batch)],
      transaction,
    );
  }
}

/** The stored form of a held value's history. */
export const originOf = (held: Held): Origins[string] => ({
  origin: held.origin,
  at: held.at,
  ...(held.locked ? { locked: true } : {}),
});
