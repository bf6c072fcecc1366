/** What a run that took tracks from another collection came to. */
import { Link } from 'react-router';
import type { TakeReport } from '@early-set/core/api/take';
import type { RunProgress } from '@early-set/core/api/types';
import { several } from '../../data/actions.ts';
import { scanAddress } from './ScanDialog.tsx';

export function TakenCounts({ run }: { run: RunProgress }) {
  const report = (run.report ?? {}) as Partial<TakeReport>;
  const { taken = 0, linked = 0, bySound = 0, failed = 0, lists = 0, cleaned } = report;
  const rest = [
    linked > 0 && `${linked} here already${bySound > 0 ? ` (${bySound} recognised by sound)` : ''}`,
    lists > 0 && several(lists, 'list'),
    failed > 0 && `${failed} not taken`,
    cleaned && `${cleaned.preset}: ${several(cleaned.tracks, 'track')} cleaned`,
  ].filter(Boolean);
  return (
    <>
      {taken > 0 ? (
        <Link to={scanAddress(run, 'taken')} className="underline hover:text-buoy-text">
          {several(taken, 'new track')}
        </Link>
      ) : (
        'nothing new'
      )}
      {rest.map((words) => `, ${words as string}`).join('')}
    </>
  );
}

/** What came over, and what was cleaned, as changes that can be taken back. */
export function TakenLinks({ report }: { report: TakeReport | null }) {
  const sets = [
    ['What came over', report?.changeSetId],
    [`Cleaned with ${report?.cleaned?.preset ?? ''}`, report?.cleaned?.changeSetId],
  ] as const;
  return sets.map(
    ([words, set]) =>
      set && (
        <p key={set} className="pl-[124px] text-small">
          <Link to={`/changes?set=${set}`} className="underline hover:text-buoy-text">
            {words}
          </Link>
        </p>
      ),
  );
}
