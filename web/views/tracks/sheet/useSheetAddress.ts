/** What the sheet shows, as its address says: filters, order, and the track that others are to fit. */
import { useEffect, useMemo } from 'react';
import { allOf } from '@early-set/core/conditions/condition';
import { useAddress } from '../../../data/address.ts';
import { hand, TRACKS_ADDRESS } from '../../../data/handed.ts';
import { useSettings } from '../../../data/hooks.ts';
import type { SortState } from '../../../ui/grid/GridHead.tsx';
import { conditionsOf, readFilters, writeFilters, type Narrow } from '../filters/filters.ts';

export function useSheetAddress() {
  const [params, change] = useAddress();
  const filters = useMemo(() => readFilters(params), [params]);
  useEffect(() => hand(TRACKS_ADDRESS, `/tracks?${params.toString()}`), [params]);
  const { data: settings } = useSettings();
  const conditions = useMemo(() => conditionsOf(filters, settings?.gapRules), [filters, settings]);
  const where = useMemo(() => allOf(...Object.values(conditions)), [conditions]);
  const fitTo = Number(params.get('fit')) || null;
  const [sortId, direction] = (params.get('sort') ?? '').split(':');
  const sort: SortState = { id: sortId || null, descending: direction === 'desc' };
  const query = new URLSearchParams({
    where: JSON.stringify(where),
    ...(sort.id ? { sort: sort.id, descending: String(sort.descending) } : {}),
    ...(fitTo ? { fitTo: String(fitTo) } : {}),
  }).toString();

  const narrow: Narrow = (next) => change((now) => writeFilters(next(readFilters(now)), now));
  const sortBy = ({ id, descending }: SortState): void =>
    change((now) => {
      const next = new URLSearchParams(now);
      if (id) next.set('sort', `${id}:${descending ? 'desc' : 'asc'}`);
      else next.delete('sort');
      return next;
    });
  const setReference = (id: number | null): void =>
    change((now) => {
      const next = new URLSearchParams(now);
      if (id !== null) {
        next.set('fit', String(id));
        next.set('sort', 'fit:desc');
      } else {
        next.delete('fit');
        if (now.get('sort')?.startsWith('fit:')) next.delete('sort');
      }
      return next;
    });
  return { filters, conditions, where, fitTo, sort, query, narrow, sortBy, setReference };
}
