/** What the sheet shows, as its address says: filters, order, and the track that others are to fit. */
import { useEffect, useMemo } from 'react';
import { useSearchParams } from 'react-router';
import { allOf } from '@early-set/core/conditions/condition';
import { hand, TRACKS_ADDRESS } from '../../../data/handed.ts';
import { useSettings } from '../../../data/hooks.ts';
import type { SortState } from '../../../ui/grid/GridHead.tsx';
import { conditionsOf, readFilters, writeFilters, type Filters } from '../filters/filters.ts';

export function useSheetAddress() {
  const [params, setParams] = useSearchParams();
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

  const setFilters = (next: Filters): void => setParams(writeFilters(next, params), { replace: false });
  const setParam = (name: string, value: string | null): void => {
    const next = new URLSearchParams(params);
    if (value === null) next.delete(name);
    else next.set(name, value);
    setParams(next);
  };
  const sortBy = ({ id, descending }: SortState): void =>
    setParam('sort', id && `${id}:${descending ? 'desc' : 'asc'}`);
  const setReference = (id: number | null): void => {
    const next = new URLSearchParams(params);
    if (id === null) {
      next.delete('fit');
      if (sort.id === 'fit') next.delete('sort');
    } else {
      next.set('fit', String(id));
      next.set('sort', 'fit:desc');
    }
    setParams(next);
  };
  return { filters, conditions, where, fitTo, sort, query, setFilters, sortBy, setReference };
}
