/** Dates as rows. */
import type { Transaction } from 'sequelize';
import type { DateInfo } from '@early-set/core/changes/snapshot';
import type { Database } from '../db/database.ts';
import { PlannedDate } from '../db/models.ts';

export const infoOf = ({ name, kind, day, startsAt, asks, listIds }: PlannedDate): DateInfo => ({
  name,
  kind,
  day,
  startsAt,
  asks,
  listIds,
});

/** A number for a date that is about to be. */
export async function newDateId(database: Database): Promise<number> {
  const [row] = await database.rows<{ id: number }>("SELECT nextval('dates_id_seq') AS id");
  return row!.id;
}

/** Dates by number; their rows stay locked until the transaction ends. */
export async function lockedDates(ids: readonly number[], transaction: Transaction): Promise<Map<number, DateInfo>> {
  if (ids.length === 0) return new Map();
  const dates = await PlannedDate.findAll({ where: { id: [...ids] }, order: ['id'], transaction, lock: true });
  return new Map(dates.map((date) => [date.id, infoOf(date)]));
}

/** Stores a date under its number. */
export async function storeDate(id: number, date: DateInfo, transaction?: Transaction): Promise<void> {
  await PlannedDate.upsert({ id, ...date }, transaction ? { transaction } : {});
}
