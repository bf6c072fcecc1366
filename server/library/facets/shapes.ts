/** What the pictures on the left are made of, as SQL over rows of tracks. */
import type { FacetList } from '@early-set/core/api/types';
import type { Condition } from '@early-set/core/conditions/condition';
import { fieldOf } from '@early-set/core/fields/table';
import { compileCondition } from '../conditionSql.ts';

export interface Histogram {
  facet: 'tempo' | 'energy' | 'year' | 'length';
  column: string;
  low: number;
  high: number;
  step: number;
}

export const HISTOGRAMS: Histogram[] = [
  { facet: 'tempo', column: 'bpm', low: 60, high: 180, step: 4 },
  { facet: 'energy', column: 'energy', low: 0, high: 100, step: 5 },
  { facet: 'year', column: 'year', low: 1970, high: 2030, step: 2 },
  { facet: 'length', column: 'duration_seconds', low: 0, high: 600, step: 20 },
];

/** Fields whose values are counted, by how many values a track has of each. */
export const LISTS: Record<FacetList, 'one' | 'several' | 'filled'> = {
  genre: 'several',
  artist: 'several',
  format: 'one',
  rating: 'one',
  moods: 'several',
  freeTags: 'several',
  hearLater: 'filled',
  comment: 'filled',
};
export const LIST_NAMES = Object.keys(LISTS) as FacetList[];
export const isList = (facet: string): facet is FacetList => Object.hasOwn(LISTS, facet);

/** Does a track say anything in a field? */
export const filledSql = (list: FacetList): string =>
  needSql(
    fieldOf(list).type === 'flag' ? { field: list, test: 'is', value: true } : { not: { field: list, test: 'empty' } },
  );
/** Conditions of the needs hold no outside values, so they are written out in full. */
export function needSql(condition: Condition): string {
  const { text, values } = compileCondition(condition);
  return text.replace(/\$(\d+)/g, (_, n: string) => {
    const value = values[Number(n) - 1];
    return Array.isArray(value)
      ? `ARRAY[${value.map((v) => `'${String(v)}'`).join(',')}]`
      : typeof value === 'boolean'
        ? String(value).toUpperCase()
        : String(Number(value));
  });
}

/** The bar of a histogram that a value stands in; null for none. */
export function binSql({ column, low, high, step }: Histogram, of = ''): string {
  const last = (high - low) / step - 1;
  const bin = `LEAST(${last}, GREATEST(0, FLOOR((${of}${column}::float8 - ${low}) / ${step})))::int`;
  return `CASE WHEN ${of}${column} IS NOT NULL THEN ${bin} END`;
}
