/** The sheet: pages of tracks that meet a condition, sorted, with the fit to a reference track. */
import type { SheetAlong, SheetPage } from '@early-set/core/api/types';
import { localDay } from '@early-set/core/clock/clock';
import type { Condition } from '@early-set/core/conditions/condition';
import { signatureOf } from '@early-set/core/fields/keys';
import { createRemembered } from '../base/remembered.ts';
import type { Database } from '../db/database.ts';
import { compileCondition } from './conditionSql.ts';
import { fitSql } from './fitSql.ts';
import { byValue, fromStop, orderOf, type Order } from './order.ts';
import { ROW_SELECT, toSheetRow, withoutEmpty, type RawRow } from './sheet.ts';

/** What is shown, and in which order. */
export interface SheetOrder {
  where: Condition;
  /** Field id, "fit", or null for the order of arrival. */
  sort: string | null;
  descending: boolean;
  /** Track whose followers are looked for. */
  fitTo: number | null;
}
export interface SheetQuery extends SheetOrder {
  offset: number;
  limit: number;
}

type FitSql = (values: unknown[]) => string;

/** SQL of the fit of track t to a reference, whose parameters go to `values`; null where there is none. */
async function fitTo(database: Database, id: number | null): Promise<FitSql | null> {
  if (id === null) return null;
  const [reference] = await database.rows<{ bpm: number | null; key: string | null; energy: number | null }>(
    'SELECT bpm, key, energy FROM tracks WHERE id = $1',
    [id],
  );
  if (!reference?.bpm) return null;
  return (values) => fitSql({ ...reference, signature: reference.key ? signatureOf(reference.key) : null }, values);
}

/** Pages of sheets, with what is kept of them until something changes. */
export interface Sheets {
  page(query: SheetQuery): Promise<SheetPage>;
  /** What stands where along a sheet, evenly spaced. */
  along(query: SheetOrder): Promise<SheetAlong>;
  /** Tracks, lists or settings have changed. */
  forget(): void;
}

/** The order of a sheet with all its parameters bound. */
type OrderSql = (values: unknown[]) => Order | null;

/** Places along a sheet: every so many rows, of those that have a value, the track and its value. */
interface Stops {
  every: number;
  valued: number;
  tracks: { id: number; value: SheetAlong['values'][number] }[];
}

const MAX_KEPT = 200,
  STOPS = 400,
  LEAST = 10;
/** Nearer than this it is not worth looking for a place to begin at. */
const FAR = 5000;

/** @param far from which row on a page begins at a known place */
export function createSheets(database: Database, far = FAR): Sheets {
  const totals = createRemembered<number>(MAX_KEPT),
    stops = createRemembered<Stops>(MAX_KEPT);
  // Some conditions ask for days, which go by.
  const idOf = (...parts: unknown[]): string => JSON.stringify([localDay(new Date()), ...parts]);

  const total = (where: Condition, has = 'TRUE'): Promise<number> =>
    totals.of(idOf(where, has), async () => {
      const { text, values } = compileCondition(where);
      const [count] = await database.rows<{ n: number }>(
        `SELECT count(*) AS n FROM tracks t WHERE ${text} AND ${has}`,
        values,
      );
      return count!.n;
    });

  const stopsId = ({ where, sort, descending, fitTo }: SheetOrder): string =>
    idOf(where, sort, descending, sort === 'fit' ? fitTo : null);
  const stopsOf = (query: SheetOrder): Promise<Stops> =>
    stops.of(stopsId(query), async () => {
      const fit = query.sort === 'fit' ? await fitTo(database, query.fitTo) : null;
      const { text, values } = compileCondition(query.where);
      const order = orderOf(query.sort, query.descending, fit && fit(values));
      const valued = await total(query.where, order?.has);
      const every = Math.max(LEAST, Math.ceil(valued / STOPS));
      const tracks = await database.rows<Stops['tracks'][number]>(
        `SELECT id, to_jsonb(value) AS value
          FROM (SELECT t.id, ${order ? order.key : 't.added_at'} AS value,
            row_number() OVER (ORDER BY ${order ? byValue(order) : 't.id'}) - 1 AS place
            FROM tracks t WHERE ${text} AND ${order?.has ?? 'TRUE'}) p
          WHERE place % $${values.push(every)}::int = 0 ORDER BY place`,
        values,
      );
      return { every, valued, tracks };
    });

  /** Ids of one page, in their order. What has no value comes behind all that has one. */
  const idsOf = async (query: SheetQuery, orderSql: OrderSql): Promise<number[]> => {
    const { where, offset, limit } = query;
    const order = orderSql([]);
    const has = order?.has ?? 'TRUE';
    const ids = async (rest: (values: unknown[]) => string): Promise<number[]> => {
      const { text, values } = compileCondition(where);
      const sql = rest(values);
      const rows = await database.rows<{ id: number }>(`SELECT t.id FROM tracks t WHERE ${text} AND ${sql}`, values);
      return rows.map((r) => r.id);
    };
    const part = (values: unknown[], from: number, count: number): string =>
      `OFFSET $${values.push(from)} LIMIT $${values.push(count)}`;
    const known = offset >= far && query.sort !== 'fit' ? stops.known(stopsId(query)) : null;
    const stop = known && Math.floor(offset / known.every);
    const at = known && known.tracks[stop!];
    const beyondAll = known !== null && offset >= known.valued;
    const first = beyondAll
      ? []
      : await ids((values) => {
          const now = orderSql(values);
          const beyond = at ? ` AND ${fromStop(now, `$${values.push(at.id)}::int`)}` : '';
          const by = now ? byValue(now) : 't.id';
          return `${has}${beyond} ORDER BY ${by} ${part(values, at ? offset - stop! * known.every : offset, limit)}`;
        });
    if (first.length === limit || !order) return first;
    const valued = first.length > 0 ? offset + first.length : await total(where, has);
    const none = (await total(where)) - valued,
      from = Math.max(0, offset - valued),
      count = Math.min(limit - first.length, none - from);
    if (count <= 0) return first;
    // Read from whichever end is nearer.
    const near = from <= none / 2;
    const rest = await ids(
      (values) =>
        `NOT (${has}) ORDER BY t.id ${near ? '' : 'DESC'} ${part(values, near ? from : none - from - count, count)}`,
    );
    return [...first, ...(near ? rest : rest.reverse())];
  };

  return {
    async page(query) {
      const fit = await fitTo(database, query.fitTo);
      const order: OrderSql = (values) => orderOf(query.sort, query.descending, fit && fit(values));
      const [all, ids] = await Promise.all([total(query.where), idsOf(query, order)]);
      // Ids first: sorting stays narrow, and whole rows are fetched only for the page.
      const values: unknown[] = [ids];
      const rows = await database.rows<RawRow>(
        `SELECT ${fit ? fit(values) : 'NULL::int'} AS fit, ${ROW_SELECT}
          FROM unnest($1::int[]) WITH ORDINALITY AS p(id, place) JOIN tracks t ON t.id = p.id ORDER BY p.place`,
        values,
      );
      return { total: all, rows: rows.map((r) => withoutEmpty(toSheetRow(r))) };
    },
    async along(query) {
      const { every, valued, tracks } = await stopsOf(query);
      return { every, valued, values: tracks.map((t) => t.value) };
    },
    forget() {
      totals.forget();
      stops.forget();
    },
  };
}
