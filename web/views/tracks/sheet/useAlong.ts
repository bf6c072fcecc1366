/** What stands where along the sheet, said in a word while the scroll bar moves faster than rows come. */
import { format, parseISO } from 'date-fns';
import { useCallback } from 'react';
import useSWR from 'swr';
import type { SheetAlong } from '@early-set/core/api/types';
import { findField } from '@early-set/core/fields/table';
import { get } from '../../../data/api.ts';
import { useServerEvents } from '../../../data/events.ts';
import { figure, valueText } from '../../../ui/format.ts';
import { labelOf } from './columns.ts';

/** Fewer are here before anybody asks where they are. */
const MANY = 500;
/** The words may be this far behind what changes. */
const PAUSE_MS = 15_000;
const LONGEST = 28;

/** The first letters of a sort text. */
function letters(text: string): string {
  const [first = '', second = ''] = text;
  return /\p{N}/u.test(first) ? '0–9' : first.toUpperCase() + second;
}

/** A label in a sentence: "genre", "BPM". */
const inWords = (label: string): string => (label === label.toUpperCase() ? label : label.toLowerCase());

/** @param sort the column that is sorted by; null for the order of arrival */
export function alongWord(sort: string | null, value: SheetAlong['values'][number]): string {
  const field = findField(sort ?? 'addedAt');
  if (value === null) return '';
  if (!field) return sort === 'toTarget' ? `${figure(Number(value), 1)} LUFS` : String(value);
  if (field.type === 'date') return format(parseISO(String(value)), 'MMM yyyy');
  if (field.sortColumn !== field.column) return letters(String(value));
  return valueText(field, value).slice(0, LONGEST);
}

/**
 * The word for a place in the sheet.
 * @param query what the sheet shows, as the server is asked
 */
export function useAlong(query: string, sort: string | null, total: number): (index: number) => string {
  const { data, mutate } = useSWR<SheetAlong, Error>(total > MANY ? `/tracks/along?${query}` : null, get, {
    revalidateOnFocus: false,
  });
  useServerEvents(['tracks'], () => void mutate(), PAUSE_MS);
  return useCallback(
    (index) => {
      if (!data) return '';
      if (index >= data.valued) return sort === null ? '' : `no ${inWords(labelOf(sort))}`;
      return alongWord(sort, data.values[Math.floor(index / data.every)] ?? null);
    },
    [data, sort],
  );
}
