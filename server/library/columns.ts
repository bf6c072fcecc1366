/** How field values become columns of the tracks table, with what is derived from them. */
import type { Transaction } from 'sequelize';
import { SEARCH_LAYOUT, SEARCHED, searchText } from '@early-set/core/conditions/condition';
import { sortText } from '@early-set/core/fields/fold';
import { signatureOf } from '@early-set/core/fields/keys';
import { FIELDS, type Field } from '@early-set/core/fields/table';
import { isEmpty, type FieldValue, type TrackValues } from '@early-set/core/fields/values';
import type { Database } from '../db/database.ts';

/** So much of a long text goes into lists. */
const BEGINNING = 200;
/** A field's column of tracks aliased "t" as a value: dates as text, in UTC and to the second. */
export const valueOf = ({ type, column }: Field): string =>
  type === 'date' ? `to_char(t.${column} AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"')` : `t.${column}`;
const select = (of: (f: Field) => string, fields = FIELDS): string =>
  fields.map((f) => `${of(f)} AS "${f.id}"`).join(', ');
const beginning = (f: Field): string => (f.long ? `left(t.${f.column}, ${BEGINNING})` : valueOf(f));
/** SELECT list of all fields by their ids, from tracks aliased "t"; of long texts only how they begin. */
export const FIELD_SELECT = select(beginning);
/** The same of some fields only. */
export const selectOf = (ids: readonly string[]): string =>
  select(
    beginning,
    FIELDS.filter((f) => ids.includes(f.id)),
  );
/** The same with long texts as a whole. */
export const WHOLE_FIELD_SELECT = select(valueOf);
/** Some fields, with long texts as a whole. */
export const wholeOf = (ids: readonly string[]): string =>
  select(
    valueOf,
    FIELDS.filter((f) => ids.includes(f.id)),
  );

export const SEARCHED_SELECT = SEARCHED.map((f) => `t.${f.column} AS "${f.id}"`).join(', ');

const CASTS: Record<Field['type'], string> = {
  text: 'text',
  texts: 'text[]',
  number: 'float8',
  integer: 'bigint',
  key: 'text',
  seconds: 'float8',
  date: 'timestamptz',
  flag: 'boolean',
  choice: 'text',
  marks: 'text',
};

/** Sort text of a value; null sorts last. */
const sortValue = (value: FieldValue): string | null =>
  isEmpty(value) ? null : sortText(Array.isArray(value) ? value.join('; ') : String(value)) || null;

interface Assignment {
  column: string;
  cast: string;
  value: unknown;
}

/** The assignments that store a track's changed values; `all` holds its searched fields as they are afterwards. */
export function assignmentsFor(changed: TrackValues, all: TrackValues): Assignment[] {
  const out: Assignment[] = [];
  let searched = false;
  for (const field of FIELDS) {
    if (!(field.id in changed)) continue;
    const value = changed[field.id] ?? null;
    out.push({ column: field.column, cast: CASTS[field.type], value: isEmpty(value) ? null : value });
    if (field.sortColumn !== field.column)
      out.push({ column: field.sortColumn, cast: 'text', value: sortValue(value) });
    if (field.id === 'key')
      out.push({
        column: 'key_signature',
        cast: 'smallint',
        value: typeof value === 'string' ? signatureOf(value) : null,
      });
    searched ||= field.searched;
  }
  if (searched)
    out.push(
      { column: 'search_text', cast: 'text', value: searchText(all) },
      { column: 'search_layout', cast: 'smallint', value: SEARCH_LAYOUT },
    );
  return out;
}

/** All columns that follow from values, with their types. */
export const EVERY_ASSIGNMENT: readonly Omit<Assignment, 'value'>[] = assignmentsFor(
  Object.fromEntries(FIELDS.map(({ id }) => [id, null])),
  {},
).map(({ column, cast }) => ({ column, cast }));

/**
 * Stores changed values of many tracks, a batch of rows per statement; rows with the same set of
 * changed columns go together. `all` of each row must hold its searched fields after the change.
 */
export async function storeValues(
  database: Database,
  rows: { id: number; changed: TrackValues; all: TrackValues }[],
  transaction: Transaction,
): Promise<void> {
  const groups = new Map<string, { assignments: Assignment[]; id: number }[]>();
  for (const { id, changed, all } of rows) {
    const assignments = assignmentsFor(changed, all);
    if (assignments.length === 0) continue;
    const shape = assignments.map((a) => a.column).join(',');
    const group = groups.get(shape) ?? [];
    group.push({ id, assignments });
    groups.set(shape, group);
  }
  for (const group of groups.values()) {
    const shape = group[0]!.assignments;
    for (let from = 0; from < group.length; from += 500) {
      const batch = group.slice(from, from + 500);
      const records = batch.map(
        ({ id, assignments }) =>
          Object.fromEntries([['id', id], ...assignments.map((a) => [a.column, a.value])]) as Record<string, unknown>,
      );
      await database.run(
        `UPDATE tracks t SET ${shape.map((a) => `${a.column} = v.${a.column}`).join(', ')}
         FROM jsonb_to_recordset($1::jsonb) AS v(id int,
           ${shape.map((a) => `${a.column} ${a.cast}`).join(', ')}) WHERE t.id = v.id`,
        [JSON.stringify(records)],
        transaction,
      );
    }
  }
}

/** Makes anew what 'words' looks through where it was stored in another order of fields, as after an upgrade. */
export async function refreshSearch(database: Database): Promise<void> {
  for (let after = 0; ;) {
    const rows = await database.rows<{ id: number } & TrackValues>(
      `SELECT t.id, ${SEARCHED_SELECT} FROM tracks t WHERE t.id > $1 AND t.search_layout <> $2 ORDER BY t.id LIMIT 2000`,
      [after, SEARCH_LAYOUT],
    );
    if (rows.length === 0) return;
    await database.run(
      `UPDATE tracks t SET search_text = v.words, search_layout = $3
        FROM unnest($1::int[], $2::text[]) AS v(id, words) WHERE t.id = v.id`,
      [rows.map((r) => r.id), rows.map((r) => searchText(r)), SEARCH_LAYOUT],
    );
    after = rows.at(-1)!.id;
  }
}
