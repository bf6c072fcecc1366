/** The sheet: pages of tracks that meet a condition, sorted, with the fit to a reference track. */
import type { Selection, SheetPage, SheetRow } from '@early-set/core/api/types';
import { compileCondition } from './conditionSql.ts';
import type { Condition } from '@early-set/core/conditions/condition';
import { fitSql } from './fitSql.ts';
import { signatureOf } from '@early-set/core/fields/keys';
import { findField } from '@early-set/core/fields/table';
import type { FieldValue } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
import { Problem } from '../base/problem.ts';
import { FIELD_SELECT, selectOf, WHOLE_FIELD_SELECT } from './columns.ts';

export interface SheetQuery {
  where: Condition;
  /** Field id, "fit", or null for the order of arrival. */
  sort: string | null;
  descending: boolean;
  offset: number;
  limit: number;
  /** Track whose followers are looked for. */
  fitTo: number | null;
}

type RawRow = {
  id: number;
  rootId: number;
  artHash: string | null;
  analysisReason: string | null;
  fit: number | null;
} & Record<string, FieldValue>;

/** Splits a raw row into what it is and its field values. */
export function toSheetRow({ id, rootId, artHash, analysisReason, fit, ...values }: RawRow): SheetRow {
  return { id, rootId, artHash, analysisReason, fit: fit ?? null, values };
}

const OWN_SELECT = 't.id, t.root_id AS "rootId", t.art_hash AS "artHash", t.analysis_reason AS "analysisReason"';
export const ROW_SELECT = `${OWN_SELECT}, ${FIELD_SELECT}`;
/** With long texts as a whole. */
export const WHOLE_ROW_SELECT = `${OWN_SELECT}, ${WHOLE_FIELD_SELECT}`;

/** SQL of the fit of track t to a reference; NULL without one. Parameters go to `values`. */
async function fitExpression(database: Database, fitTo: number | null, values: unknown[]): Promise<string> {
  if (fitTo === null) return 'NULL::int';
  const [reference] = await database.rows<{ bpm: number | null; key: string | null; energy: number | null }>(
    'SELECT bpm, key, energy FROM tracks WHERE id = $1',
    [fitTo],
  );
  if (!reference) return 'NULL::int';
  return fitSql({ ...reference, signature: reference.key ? signatureOf(reference.key) : null }, values);
}

const sortExpression = (sort: string, fit: string): string => {
  if (sort === 'fit') return fit;
  if (sort === 'toTarget') return '-t.lufs'; // the louder, the further down it must go
  const field = findField(sort);
  if (!field) throw new Problem(400, 'unknown-field', `There is no column "${sort}" to sort by`);
  return field.type === 'texts' && field.sortColumn === field.column
    ? `array_to_string(t.${field.column}, '; ')`
    : `t.${field.sortColumn}`;
};

/** One page of the sheet. */
export async function sheetPage(database: Database, query: SheetQuery): Promise<SheetPage> {
  const counted = compileCondition(query.where);
  const { text, values } = compileCondition(query.where);
  const fit = await fitExpression(database, query.fitTo, values);
  const order = query.sort
    ? `${sortExpression(query.sort, fit)} ${query.descending ? 'DESC' : 'ASC'} NULLS LAST, t.id`
    : 't.id';
  // Ids first: sorting stays narrow, and whole rows are fetched only for the page.
  const page = `SELECT ${fit} AS fit, ${ROW_SELECT}
    FROM (SELECT o.id, row_number() OVER () AS place FROM (SELECT t.id FROM tracks t WHERE ${text}
      ORDER BY ${order} OFFSET $${values.push(query.offset)} LIMIT $${values.push(query.limit)}) o) p
    JOIN tracks t ON t.id = p.id ORDER BY p.place`;
  const [rows, [count]] = await Promise.all([
    database.rows<RawRow>(page, values),
    database.rows<{ n: number }>(`SELECT count(*) AS n FROM tracks t WHERE ${counted.text}`, counted.values),
  ]);
  return { total: count!.n, rows: rows.map(toSheetRow) };
}

/** For long lists: what is empty is not said. */
const withoutEmpty = (row: SheetRow): SheetRow => ({
  ...row,
  values: Object.fromEntries(Object.entries(row.values).filter(([, value]) => value !== null)),
});

/**
 * Rows of given tracks, in that order.
 * @param fields ids of those that are wanted, and left out where they are empty; all, empty ones too, where none are
 * named
 */
export async function sheetRows(
  database: Database,
  ids: readonly number[],
  fields?: readonly string[],
): Promise<SheetRow[]> {
  const rows = await database.rows<RawRow>(
    `SELECT NULL::int AS fit, ${fields ? [OWN_SELECT, selectOf(fields)].filter(Boolean).join(', ') : ROW_SELECT} FROM tracks t WHERE t.id = ANY($1::int[])`,
    [[...ids]],
  );
  const byId = new Map(rows.map((r) => [r.id, fields ? withoutEmpty(toSheetRow(r)) : toSheetRow(r)]));
  return ids.flatMap((id) => byId.get(id) ?? []);
}

/** Ids of the selected tracks, each once; those of a condition in the order of a sort. */
export async function selectedIds(
  database: Database,
  selection: Selection,
  sort: string | null = null,
  descending = false,
): Promise<number[]> {
  if ('ids' in selection) {
    const rows = await database.rows<{ id: number }>('SELECT id FROM tracks WHERE id = ANY($1::int[])', [
      selection.ids,
    ]);
    const there = new Set(rows.map((r) => r.id));
    return [...new Set(selection.ids)].filter((id) => there.has(id));
  }
  const { text, values } = compileCondition(selection.where);
  const order =
    sort && sort !== 'fit' ? `${sortExpression(sort, '')} ${descending ? 'DESC' : 'ASC'} NULLS LAST, t.id` : 't.id';
  const rows = await database.rows<{ id: number }>(
    `SELECT t.id FROM tracks t WHERE ${text} AND t.id <> ALL($${values.push(selection.except)}::int[])
      ORDER BY ${order}`,
    values,
  );
  return rows.map((r) => r.id);
}
