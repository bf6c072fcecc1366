/** Rows of the sheet, and which tracks are chosen in it. */
import type { Selection, SheetRow } from '@early-set/core/api/types';
import { compileCondition } from './conditionSql.ts';
import type { FieldValue } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';
import { byOrder, orderOf } from './order.ts';
import { FIELD_SELECT, selectOf, WHOLE_FIELD_SELECT } from './columns.ts';

export type RawRow = {
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

/** For long lists: what is empty is not said. */
export const withoutEmpty = (row: SheetRow): SheetRow => ({
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
  const order = byOrder(orderOf(sort === 'fit' ? null : sort, descending));
  // One value, not a row for each: there may be hundreds of thousands.
  const [all] = await database.rows<{ ids: number[] | null }>(
    `SELECT json_agg(t.id ORDER BY ${order}) AS ids FROM tracks t
      WHERE ${text} AND t.id <> ALL($${values.push(selection.except)}::int[])`,
    values,
  );
  return all!.ids ?? [];
}
