/** A condition as filters of the sheet, as far as these can say it; the rest stays a condition with words. */
import { allOf, type Condition } from '@early-set/core/conditions/condition';
import { conditionWords, type Known } from '@early-set/core/conditions/words';
import { cut } from '@early-set/core/fields/cut';
import type { FacetList } from '@early-set/core/api/types';
import { conditionsOf, NO_FILTERS, readFilters, writeFilters, type Filters } from './filters.ts';

/** The address of the sheet narrowed to a condition. */
export const addressFor = (condition: Condition, known: Known): string =>
  `/tracks?${writeFilters(filtersFrom(condition, known), new URLSearchParams()).toString()}`;

export function filtersFrom(condition: Condition, known: Known): Filters {
  let filters = NO_FILTERS;
  const rest: Condition[] = [];
  for (const part of 'all' in condition ? condition.all : [condition]) {
    const next = guesses(part)
      .map((guess) => ({ ...filters, ...guess(filters) }))
      .find((wider) => says(wider, filters, part));
    if (next) filters = next;
    else rest.push(part);
  }
  if (rest.length === 0) return filters;
  const where = allOf(...rest);
  return { ...filters, also: { label: cut(conditionWords(where, known), 60), where } };
}

/** Do filters say just one thing more than others, and this? Asked of what the address keeps of them. */
function says(filters: Filters, than: Filters, part: Condition): boolean {
  const now = conditionsOf(readFilters(writeFilters(filters, new URLSearchParams()))),
    before = conditionsOf(than);
  const more = Object.keys(now).filter((k) => !(k in before));
  return more.length === 1 && JSON.stringify(now[more[0]!]) === JSON.stringify(part);
}

type Guess = (filters: Filters) => Partial<Filters>;

/** Filters that may say a condition. */
function guesses(part: Condition): Guess[] {
  if ('inFolder' in part) return [() => ({ folder: part.inFolder })];
  if ('any' in part) return part.any.flatMap((c) => listGuess(c, true));
  if ('not' in part) return listGuess(part, false);
  if (!('test' in part)) return [];
  switch (part.test) {
    case 'words':
      return [() => ({ find: part.text, findIn: part.field ?? null })];
    case 'between': {
      const { low, high } = part;
      if (low === undefined || high === undefined) return [];
      return (['tempo', 'energy', 'year', 'length'] as const).map((name) => (f) => ({
        ranges: { ...f.ranges, [name]: { low, high } },
      }));
    }
    case 'one of':
      if (part.field === 'key')
        return Array.from({ length: 12 * 7 }, (_, i) => () => ({
          key: { signature: Math.floor(i / 7) - 5, reach: i % 7 },
        }));
      return listGuess(part, false);
    default:
      return listGuess(part, false);
  }
}

/** Chosen values of a list; with what says nothing there, when asked for. */
function listGuess(c: Condition, orNone: boolean): Guess[] {
  const none = orNone ? [''] : [];
  if ('not' in c) return 'test' in c.not && c.not.test === 'empty' ? [listOf('comment', ['yes', ...none])] : [];
  if (!('test' in c) || c.test === 'words') return [];
  const name = c.field as FacetList;
  if (c.test === 'one of') return [listOf(name, [...c.values, ...none])];
  if (c.test === 'is') return [listOf(name, c.value ? ['yes', ...none] : [''])];
  return c.test === 'empty' ? [listOf(name, [''])] : [];
}

const listOf =
  (name: FacetList, values: string[]): Guess =>
  ({ lists }) => ({ lists: { ...lists, [name]: values } });
