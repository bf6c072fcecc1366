/** The order of what is not music. */
import type { OtherFile } from '@early-set/core/api/disk';
import type { SortState } from '../../../ui/grid/GridHead.tsx';

export type OthersSort = SortState;

const NUMBERS = ['size', 'modifiedMs'] as const;

/** By a column; equal ones by library folder and path. */
export function sorted(lines: readonly OtherFile[], { id, descending }: OthersSort): OtherFile[] {
  const by = (a: OtherFile, b: OtherFile): number => {
    const field = NUMBERS.find((n) => n === id);
    if (field) return a[field] - b[field];
    return id === 'reason' || id === 'root' ? a[id].localeCompare(b[id], 'en') : 0;
  };
  const place = (a: OtherFile, b: OtherFile): number =>
    a.root.localeCompare(b.root, 'en') || a.path.localeCompare(b.path, 'en', { numeric: true });
  const way = descending ? -1 : 1;
  return lines.toSorted((a, b) => way * (by(a, b) || (id === 'path' ? place(a, b) : 0)) || place(a, b));
}
