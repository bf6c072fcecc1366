/** One date: when, with which lists, and how ready their tracks are; every figure opens the tracks it counts. */
import { format, parseISO } from 'date-fns';
import { FolderOutput, Pencil, X } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Applied, DateLine } from '@early-set/core/api/types';
import { clockLength } from '@early-set/core/clock/clock';
import { allOf, type Condition } from '@early-set/core/conditions/condition';
import { lacksOne } from '@early-set/core/conditions/needs';
import { change, several } from '../../data/actions.ts';
import { remove } from '../../data/api.ts';
import { useSettings } from '../../data/hooks.ts';
import { Button } from '../../ui/Button.tsx';
import { WaitingAt } from '../handover/WaitingAt.tsx';
import { PutDialog } from '../put/PutDialog.tsx';
import { sheetAddress } from '../tracks/filters/filters.ts';

/** "today", "tomorrow", "in 3 days", "2 days ago". */
export const whenWords = (days: number): string => NEAR[days] ?? inWords.format(days, 'day');

const inWords = new Intl.RelativeTimeFormat('en-GB');
const NEAR: Record<number, string> = { [-1]: 'yesterday', 0: 'today', 1: 'tomorrow' };

export function DateCard({ date, days, onEdit }: { date: DateLine; days: number; onEdit: () => void }) {
  const { data: settings } = useSettings();
  const share = date.tracks ? date.ready / date.tracks : 0,
    left = date.tracks - date.ready;
  const within: Condition = { inLists: date.within };
  const parts: { label: string; /** What the others are. */ else: string; done: number; lacking: Condition | null }[] =
    [
      {
        label: 'measured',
        else: 'not measured',
        done: date.measured,
        lacking: { not: { field: 'analysisState', test: 'one of', values: ['done'] } },
      },
      {
        label: 'without gaps',
        else: 'with gaps',
        done: date.filled,
        lacking: settings ? lacksOne(settings.gapRules[date.asks]) : null,
      },
      {
        label: 'no missing file',
        else: 'missing file',
        done: date.here,
        lacking: { field: 'fileState', test: 'one of', values: ['missing'] },
      },
      {
        label: 'tags written',
        else: 'tags not written yet',
        done: date.written,
        lacking: { not: { field: 'unwritten', test: 'empty' } },
      },
    ];
  const any = parts.flatMap((p) => (p.lacking ? [p.lacking] : []));
  const [putting, setPutting] = useState(false);
  const takeOff = (): void => void change(remove<Applied>(`/dates/${date.id}`), `“${date.name}” is removed`);
  return (
    <article aria-label={date.name} className="relative flex border border-line bg-paper">
      <span
        role="img"
        aria-label={`${Math.floor(share * 100)} % ready`}
        className="relative w-[18px] shrink-0 border-r border-line bg-sheet"
      >
        <span
          className="absolute inset-x-0 bottom-0 border-t border-tide-deep bg-tide"
          style={{ height: `${share * 100}%` }}
        />
      </span>
      <div className="min-w-0 flex-1 px-3.5 py-2.5">
        <header className="flex flex-wrap items-baseline gap-x-2.5">
          <h2 className="heading truncate text-[17px]">{date.name}</h2>
          <span className="text-small text-dim">{date.kind}</span>
          <span className="flex-1" />
          <span className="text-small">
            <time dateTime={date.day}>{format(parseISO(date.day), 'EEE d MMM')}</time>
            {date.startsAt && <span className="figures">, {date.startsAt}</span>}
          </span>
          <span className={`text-small font-semibold ${days >= 0 && days <= 3 ? 'text-buoy-text' : 'text-dim'}`}>
            {whenWords(days)}
          </span>
          <Button
            kind="quiet"
            aria-label={`Move or copy the files of ${date.name}`}
            title="Move or copy its files"
            disabled={date.tracks === 0}
            onClick={() => setPutting(true)}
          >
            <FolderOutput size={14} />
          </Button>
          <Button kind="quiet" aria-label={`Change ${date.name}`} onClick={onEdit}>
            <Pencil size={14} />
          </Button>
          <Button kind="quiet" aria-label={`Remove ${date.name}`} onClick={takeOff}>
            <X size={14} />
          </Button>
        </header>
        {date.lists.length === 0 ? (
          <p className="mt-1 text-small text-dim">
            It has no crates or playlists yet.{' '}
            <button type="button" onClick={onEdit} className="font-semibold text-buoy-text hover:underline">
              Choose some
            </button>
          </p>
        ) : (
          <>
            <p className="mt-0.5 truncate text-small">
              {date.lists.map((l, i) => (
                <span key={l.id}>
                  {i > 0 && ', '}
                  <Link to={`/arrange/${l.id}`} className="hover:text-buoy-text hover:underline">
                    {l.name}
                  </Link>
                </span>
              ))}{' '}
              <span className="text-dim">
                · {several(date.tracks, 'track')}, {clockLength(date.seconds)}
              </span>
            </p>
            {date.tracks > 0 && (
              <>
                <dl className="mt-2 grid grid-cols-4 gap-3 narrow:grid-cols-2">
                  {parts.map(({ label, else: others, done, lacking }) => (
                    <div key={label} className="flex flex-col-reverse">
                      <dt className="text-tiny text-dim">{label}</dt>
                      <dd className="text-small">
                        <span aria-hidden="true" className="mb-1 block h-[5px] bg-hair">
                          <span
                            className={`block h-full ${done === date.tracks ? 'bg-kelp' : 'bg-sodium'}`}
                            style={{ width: `${(100 * done) / date.tracks}%` }}
                          />
                        </span>
                        <span className="figures">{done.toLocaleString('en-GB')}</span>
                        {done < date.tracks && lacking && (
                          <>
                            {' '}
                            ·{' '}
                            <Link
                              to={sheetAddress(`${date.name}: ${others}`, allOf(within, lacking))}
                              className="text-buoy-text underline"
                            >
                              {(date.tracks - done).toLocaleString('en-GB')} left
                            </Link>
                          </>
                        )}
                      </dd>
                    </div>
                  ))}
                </dl>
                <p className="mt-2 text-small">
                  {left === 0 ? (
                    <span className="font-semibold text-kelp">
                      Ready {date.asks === 'floor' ? 'for the floor' : 'for playout'}
                    </span>
                  ) : (
                    <>
                      {Math.floor(share * 100)} % ready {date.asks === 'floor' ? 'for the floor' : 'for playout'}:{' '}
                      <Link
                        to={sheetAddress(`${date.name}: not ready`, allOf(within, { any }))}
                        className="font-semibold text-buoy-text underline"
                      >
                        {several(left, 'track')} to do
                      </Link>
                    </>
                  )}
                </p>
              </>
            )}
            {date.tracks > 0 && (
              <p className="mt-1 empty:hidden">
                <WaitingAt lists={date.within} soon={days >= 0 && days <= 3} />
              </p>
            )}
            {date.tracks === 0 && <p className="mt-1 text-small text-dim">Nothing is in them yet.</p>}
          </>
        )}
      </div>
      <PutDialog
        selection={putting ? { where: within, except: [] } : null}
        whose={`${date.name}, ${several(date.tracks, 'track')}`}
        onClose={() => setPutting(false)}
      />
    </article>
  );
}
