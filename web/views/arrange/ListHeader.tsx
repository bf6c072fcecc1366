/** Above a list: its name, what it comes to, and what can be done with it as a whole. */
import type { Applied, ListContents } from '@early-set/core/api/types';
import { clockLength, timeOfDay } from '@early-set/core/clock/clock';
import { change, several } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { WaitingAt } from '../handover/WaitingAt.tsx';
import { SortMenu } from './SortMenu.tsx';
import type { Smoothing } from './useSmoothing.ts';

interface Props {
  list: ListContents;
  /** Seconds in all. */
  total: number;
  smoothing: Smoothing;
  onExport: () => void;
}

export function ListHeader({ list, total, smoothing, onExport }: Props) {
  const { info, entries } = list;
  const ordered = info.kind === 'playlist';
  const tracks = info.rule === null ? entries.filter((e) => e.id > 0).length : list.total;
  return (
    <div className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line bg-paper px-3.5 py-2">
      <h1 className="heading max-w-full min-w-0 truncate text-[19px]" title={info.name}>
        {info.name}
      </h1>
      <span className="figures shrink-0 text-small text-dim" data-testid="list-length">
        {several(tracks, 'track')}
        {tracks === entries.length && ` · ${clockLength(total)}`}
        {ordered && info.startsAt && entries.length > 0 && ` · ends ${timeOfDay(info.startsAt, total)}`}
      </span>
      <WaitingAt lists={[list.id]} />
      <span className="flex-1" />
      {info.removed && (
        <Button onClick={() => void change(patch<Applied>(`/lists/${list.id}`, { removed: false }))}>Restore</Button>
      )}
      {info.rule === null && <SortMenu list={list} disabled={entries.length < 2 || smoothing.draft !== null} />}
      <Button kind={ordered ? 'plain' : 'main'} disabled={entries.length === 0} onClick={onExport}>
        Export…
      </Button>
      {ordered && (
        <Button kind="main" disabled={tracks < 3 || smoothing.share !== null} onClick={() => smoothing.start()}>
          Smooth the order
        </Button>
      )}
    </div>
  );
}
