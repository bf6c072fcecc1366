/** Conditions as SQL for PostgreSQL, over the tracks table aliased "t". Values go as parameters only. */
import { searchWords } from '@early-set/core/fields/fold';
import { fieldOf, type Field } from '@early-set/core/fields/table';
import {
  keysNear,
  midnight,
  SEARCHED,
  searchedField,
  tempoRanges,
  type Condition,
  momentsOf,
} from '@early-set/core/conditions/condition';

export interface Sql {
  text: string;
  values: unknown[];
}

/** The letters and digits that the column search_letters has a bit for, in their order. */
const LETTERS = 'abcdefghijklmnopqrstuvwxyz0123456789';

/** Escapes a literal for LIKE. */
export const likeEscaped = (text: string): string => text.replace(/[\\%_]/g, (c) => `\\${c}`);

const isNumber = ({ type }: Field): boolean => ['number', 'integer', 'seconds'].includes(type);

/**
 * Compiles a condition; parameters are numbered on from `values`, which is extended in place.
 * @throws RangeError for an unknown field.
 */
export function compileCondition(condition: Condition, values: unknown[] = [], now: Date = new Date()): Sql {
  const parameter = (value: unknown): string => `$${values.push(value)}`;
  const walk = (c: Condition): string => {
    if ('all' in c) return c.all.length ? `(${c.all.map(walk).join(' AND ')})` : 'TRUE';
    if ('any' in c) return c.any.length ? `(${c.any.map(walk).join(' OR ')})` : 'FALSE';
    if ('not' in c) return `NOT ${walk(c.not)}`;
    if ('inLists' in c)
      return c.inLists.length
        ? `t.id IN (SELECT lt.track_id FROM list_tracks lt WHERE lt.list_id = ANY(${parameter(c.inLists)}::uuid[]))`
        : 'FALSE';
    if ('onDates' in c)
      return c.onDates.length
        ? `t.id IN (SELECT e.track_id FROM list_entries e JOIN dates d ON e.list_id = ANY(d.list_ids)
            WHERE e.track_id IS NOT NULL AND d.id = ANY(${parameter(c.onDates)}::int[]))`
        : 'FALSE';
    if ('ofScan' in c)
      return `t.id IN (SELECT s.track_id FROM scan_tracks s WHERE s.run_id = ${parameter(c.ofScan)}::int
        AND s.part = ${parameter(c.as)})`;
    if ('inFolder' in c) {
      const { rootId, path } = c.inFolder;
      const root = `t.root_id = ${parameter(rootId)}::int`;
      if (!c.below) return `(${root} AND t.folder = ${parameter(path)})`;
      return path === '' ? root : `(${root} AND t.path LIKE ${parameter(`${likeEscaped(path)}/%`)})`;
    }
    if (c.test === 'words') {
      // The whole text finds the tracks by its index; of one field, its line is looked at then.
      const line = c.field === undefined ? 0 : SEARCHED.indexOf(searchedField(c.field)) + 1;
      const words = searchWords(c.text).map((word) => {
        const bit = word.length === 1 && line === 0 ? LETTERS.indexOf(word) : -1;
        if (bit >= 0) return `t.search_letters & ${parameter(2 ** bit)}::bigint <> 0`;
        const like = `LIKE ${parameter(`%${likeEscaped(word)}%`)}`;
        return `t.search_text ${like}${line ? ` AND split_part(t.search_text, E'\\n', ${line}) ${like}` : ''}`;
      });
      return words.length ? `(${words.join(' AND ')})` : 'TRUE';
    }
    const field = fieldOf(c.field);
    const column = `t.${field.column}`;
    const list = field.type === 'texts';
    switch (c.test) {
      case 'between': {
        if (!isNumber(field)) return 'FALSE';
        const bounds = [
          c.low === undefined ? null : `${column} >= ${parameter(c.low)}::float8`,
          c.high === undefined ? null : `${column} <= ${parameter(c.high)}::float8`,
        ].filter(Boolean);
        return `(${column} IS NOT NULL${bounds.map((b) => ` AND ${b}`).join('')})`;
      }
      case 'one of':
        if (c.values.length === 0) return 'FALSE';
        return list
          ? `(${column} IS NOT NULL AND ${column} && ${parameter(c.values)}::text[])`
          : `(${column} IS NOT NULL AND ${column}::text = ANY(${parameter(c.values)}::text[]))`;
      case 'empty':
        return list
          ? `(${column} IS NULL OR cardinality(${column}) = 0)`
          : field.type === 'text' || field.type === 'choice' || field.type === 'key'
            ? `(${column} IS NULL OR ${column} = '')`
            : `(${column} IS NULL)`;
      case 'begins':
        return ['text', 'choice', 'key'].includes(field.type)
          ? `(${column} IS NOT NULL AND ${column} <> '' AND starts_with(${column}, ${parameter(c.text)}))`
          : 'FALSE';
      case 'is':
        return field.type === 'flag'
          ? `(COALESCE(${column}, FALSE) = ${parameter(c.value)}::boolean)`
          : c.value
            ? 'FALSE'
            : 'TRUE';
      case 'by hand':
        return `EXISTS (SELECT 1 FROM track_origins o WHERE o.track_id = t.id
          AND o.origins->${parameter(field.id)}::text->>'origin' = 'typed')`;
      case 'in the last':
        return field.type === 'date'
          ? `(${column} IS NOT NULL AND ${column} >= ${parameter(midnight(now, c.days).toISOString())}::timestamptz)`
          : 'FALSE';
      case 'days': {
        if (field.type !== 'date') return 'FALSE';
        const [from, to] = momentsOf(c);
        const at = (moment: Date): string => `${parameter(moment.toISOString())}::timestamptz`;
        return `(${column} IS NOT NULL${from ? ` AND ${column} >= ${at(from)}` : ''}${to ? ` AND ${column} < ${at(to)}` : ''})`;
      }
      case 'near key':
        return ['text', 'choice', 'key'].includes(field.type)
          ? `(${column} IS NOT NULL AND ${column} = ANY(${parameter(keysNear(c.key, c.reach))}::text[]))`
          : 'FALSE';
      case 'tempo': {
        if (!isNumber(field)) return 'FALSE';
        const ranges = tempoRanges(c.low, c.high).map(
          ([low, high]) => `${column} BETWEEN ${parameter(low)}::float8 AND ${parameter(high)}::float8`,
        );
        return `(${column} IS NOT NULL AND (${ranges.join(' OR ')}))`;
      }
    }
  };
  return { text: walk(condition), values };
}
