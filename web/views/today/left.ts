/** What is left per stage, as lines that lead to just that. */
import type { Overview } from '@early-set/core/api/types';
import { needsOf, type GapRules } from '@early-set/core/conditions/needs';
import { sheetAddress } from '../tracks/filters/filters.ts';

export interface LeftLine {
  stage: string;
  label: string;
  /** What is said when nothing is. */ none: string;
  count: number;
  to: string;
}

export function leftOf(overview: Overview, rules: GapRules): LeftLine[] {
  const needs = needsOf(rules);
  const need = (id: string): string => {
    const n = needs.find((x) => x.id === id)!;
    return sheetAddress(n.label, n.condition);
  };
  return [
    {
      stage: 'intake',
      label: 'not taken',
      none: 'all files taken',
      count: overview.stages.intake.count,
      to: '/intake',
    },
    {
      stage: 'tracks',
      label: 'not measured',
      none: 'all measured',
      count: overview.tracks - overview.measured,
      to: sheetAddress('Not measured', { not: { field: 'analysisState', test: 'one of', values: ['done'] } }),
    },
    { stage: 'clean', label: 'with gaps', none: 'no gaps', count: overview.stages.clean.count, to: need('gaps') },
    {
      stage: 'clean',
      label: 'not ready for the floor',
      none: 'all ready for the floor',
      count: overview.notReady.floor,
      to: need('floor'),
    },
    {
      stage: 'clean',
      label: 'not ready for playout',
      none: 'all ready for playout',
      count: overview.notReady.playout,
      to: need('playout'),
    },
    {
      stage: 'clean',
      label: 'tags not written yet',
      none: 'all tags written',
      count: overview.unwritten,
      to: need('unwritten'),
    },
    {
      stage: 'disk',
      label: 'missing files',
      none: 'no missing files',
      count: overview.onDisk.missing,
      to: need('missing'),
    },
    {
      stage: 'disk',
      label: 'files out of place',
      none: 'no files out of place',
      count: overview.onDisk.place,
      to: need('place'),
    },
    {
      stage: 'disk',
      label: 'duplicates',
      none: 'no duplicates',
      count: overview.onDisk.duplicate,
      to: need('duplicate'),
    },
  ];
}
