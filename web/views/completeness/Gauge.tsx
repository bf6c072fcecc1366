/** How much of something is ready, as water in a gauge, with the way to the rest. */
import { Link } from 'react-router';
import { several } from '../../data/actions.ts';

/** Rounded down, so that nothing but all is a hundred. */
export const percent = (part: number, whole: number): string =>
  whole === 0 ? '–' : part === whole ? '100' : String(Math.floor((100 * part) / whole));

export function Gauge({ name, ready, all, to }: { name: string; ready: number; all: number; to: string | null }) {
  const left = all - ready;
  return (
    <div className="relative border border-line bg-paper py-2.5 pr-3.5 pl-8">
      <span aria-hidden="true" className="absolute inset-y-0 left-0 w-[16px] border-r border-line bg-sheet">
        <span
          className="absolute inset-x-0 bottom-0 border-t border-tide-deep bg-tide"
          style={{ height: `${all ? (100 * ready) / all : 0}%` }}
        />
      </span>
      <p className="font-semibold">{name}</p>
      <p>
        <span className="heading text-[24px]">{percent(ready, all)} %</span>{' '}
        <span className="text-small">
          {ready.toLocaleString('en-GB')} of {all.toLocaleString('en-GB')}
        </span>
      </p>
      <p className="text-small">
        {left === 0 ? (
          'Nothing is left'
        ) : to ? (
          <Link to={to} className="font-semibold text-buoy-text underline">
            {several(left, 'track')} left
          </Link>
        ) : (
          `${several(left, 'track')} left`
        )}
      </p>
    </div>
  );
}
