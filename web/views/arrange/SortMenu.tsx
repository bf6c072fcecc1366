/** Sorts a list by a field, once; the order is kept, and undone like any change. */
import { ArrowDownNarrowWide } from 'lucide-react';
import type { Applied, ListContents } from '@early-set/core/api/types';
import { reversedOrder, sortedOrder, type Sortable } from '@early-set/core/arrange/sorted';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Menu, type MenuItem } from '../../ui/Menu.tsx';

const FIELDS = [
  ['bpm', 'BPM'],
  ['key', 'Key'],
  ['energy', 'Energy'],
  ['lufs', 'LUFS'],
  ['durationSeconds', 'Length'],
  ['title', 'Title'],
  ['artist', 'Artist'],
  ['rating', 'Stars'],
] as const;

const sortable = ({ entries }: ListContents): Sortable[] =>
  entries.map(({ entryId, id, values, data }) => ({ entryId, values, stays: id === 0 || data.pinned === true }));

export function sortItems(list: ListContents): MenuItem[] {
  const keep = (entryIds: string[]): void =>
    void change(post<Applied>(`/lists/${list.id}/entries/order`, { entryIds, by: 'sorting' }));
  return [
    ...FIELDS.map(([field, label]) => ({ label, run: () => keep(sortedOrder(sortable(list), field)) })),
    { label: 'Reverse the order', apart: true, run: () => keep(reversedOrder(sortable(list))) },
  ];
}

export const SortMenu = ({ list, disabled }: { list: ListContents; disabled: boolean }) => (
  <Menu items={sortItems(list)}>
    <Button disabled={disabled} title="Sorts the list and keeps that order">
      <ArrowDownNarrowWide size={14} aria-hidden />
      Sort by
    </Button>
  </Menu>
);
