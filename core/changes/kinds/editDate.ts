/** A date to prepare for: made, changed, taken off. */
import type { DateInfo } from '../snapshot.ts';
import { defineKind } from './kind.ts';

export interface EditDate {
  kind: 'edit-date';
  dateId: number;
  before: DateInfo | null;
  after: DateInfo | null;
}

export const editDate = (dateId: number, before: DateInfo | null, after: DateInfo | null): EditDate => ({
  kind: 'edit-date',
  dateId,
  before,
  after,
});

const sameDate = (a: DateInfo | null, b: DateInfo | null): boolean =>
  a === b ||
  (a !== null &&
    b !== null &&
    a.name === b.name &&
    a.kind === b.kind &&
    a.day === b.day &&
    a.startsAt === b.startsAt &&
    a.asks === b.asks &&
    a.listIds.join() === b.listIds.join());

const inWords = (date: DateInfo | null): string =>
  date ? [date.name, date.day, date.startsAt].filter(Boolean).join(', ') : '';

export const editDateKind = defineKind<EditDate>({
  kind: 'edit-date',
  area: 'dates',
  inFiles: false,
  touches: ({ dateId }) => ({ dates: [dateId] }),
  conflict({ dateId, before }, { dates }) {
    const now = dates.get(dateId) ?? null;
    if (sameDate(now, before)) return null;
    return now === null ? 'The date is no longer there' : 'The date has been changed since';
  },
  apply({ dateId, after }, { dates }) {
    if (after) dates.set(dateId, after);
    else dates.delete(dateId);
  },
  inverse: (item) => ({ ...item, before: item.after, after: item.before }),
  words({ before, after }) {
    const lists = before && after && before.listIds.join() !== after.listIds.join();
    return inWords(before) === inWords(after)
      ? { show: 'sentence', text: lists ? 'other crates and playlists' : 'what it asks for' }
      : { show: 'texts', label: 'Date', before: inWords(before), after: inWords(after) };
  },
  searched: ({ before, after }) => `${before?.name ?? ''}\n${after?.name ?? ''}`,
});
