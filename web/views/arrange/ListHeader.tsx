/** Above a list: its name, what it comes to, and what can be done with it as a whole. */
import { ChevronDown } from 'lucide-react';
import type { Applied, ListContents } from '@early-set/core/api/types';
import { SHAPES, shapeLabel } from '@early-set/core/arrange/shape';
import { clockLength, timeOfDay } from '@early-set/core/clock/clock';
import { change, several } from '../../data/actions.ts';
import { patch } from '../../data/api.ts';
import { Button } from '../../ui/Button.tsx';
import { Menu, type MenuItem } from '../../ui/Menu.tsx';
import type { Smoothing } from './useSmoothing.ts';

interface Props {
  list: ListContents;
  /** Seconds in all. */
  total: number;
  smoothing: Smoothing;
  onExport: () => void;
}

/** The shapes to choose from. */
export const shapeItems = (list: ListContents): MenuItem[] =>
  [null, ...SHAPES].map((shape) => {
    const name = shape ?? 'none';
    return {
      label: name[0]!.toUpperCase() + name.slice(1),
      disabled: shape === list.info.shape,
      apart: shape === SHAPES[0],
      run: () => void change(patch<Applied>(`/lists/${list.id}`, { shape })),
    };
  });

export function ListHeader({ list, total, smoothing, onExport }: Props) {
  const { info, entries } = list;
  const ordered = info.kind === 'playlist';
  const tracks = entries.filter((e) => e.id > 0).length;
  return (
    <div className="flex min-h-[50px] shrink-0 flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-line bg-paper px-3.5 py-2">
      <h1 className="heading min-w-0 truncate text-[19px]" title={info.name}>
        {info.name}
      </h1>
      <span className="figures shrink-0 text-small text-dim" data-testid="list-length">
        {several(tracks, 'track')} · {clockLength(total)}
        {ordered && info.startsAt && entries.length > 0 && ` · ends ${timeOfDay(info.startsAt, total)}`}
      </span>
      <span className="flex-1" />
      {info.removed && (
        <Button onClick={() => void change(patch<Applied>(`/lists/${list.id}`, { removed: false }))}>Restore</Button>
      )}
      {ordered && (
        <Menu items={shapeItems(list)}>
          <Button>
            Wished shape: {shapeLabel(info.shape)}
            <ChevronDown size={13} aria-hidden />
          </Button>
        </Menu>
      )}
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
