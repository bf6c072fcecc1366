/** How dates stand in their table. */
import type { Transaction } from 'sequelize';
import type { DateInfo } from '@early-set/core/changes/snapshot';
import type { Database } from '../db/database.ts';

export const DATE_SELECT = `id, name, kind, to_char(day, 'YYYY-MM-DD') AS day, starts_at AS "startsAt", asks, list_ids::text[] AS "listIds"`;

/** A number for a date that is about to be. */
export async function newDateId(database: Database): Promise<number> {
  const [row] = await database.rows<{ id: number }>("SELECT nextval('dates_id_seq') AS id");
  return row!.id;
}

/** Stores a date under its number. */
export const storeDate = (database: Database, id: number, date: DateInfo, t?: Transaction): Promise<void> =>
  database.run(
    `INSERT INTO dates (id, name, kind, day, starts_at, asks, list_ids) VALUES ($1, $2, $3, $4::date, $5, $6, $7::uuid[])
     ON CONFLICT (id) DO UPDATE SET name = excluded.name, kind = excluded.kind, day = excluded.day, starts_at = excluded.starts_at, asks = excluded.asks, list_ids = excluded.list_ids`,
    [id, date.name, date.kind, date.day, date.startsAt, date.asks, date.listIds],
    t,
  );
