/** Fills a stretch of so many minutes behind the entry in hand, from what is ranked above. */
import { useState } from 'react';
import type { Applied, ListContents, SheetRow } from '@early-set/core/api/types';
import { fill } from '@early-set/core/arrange/fill';
import type { FollowWeights } from '@early-set/core/arrange/follow';
import { wishedAt } from '@early-set/core/arrange/shape';
import { toast } from 'sonner';
import { change } from '../../../data/actions.ts';
import { post } from '../../../data/api.ts';
import { useRemembered } from '../../../data/remembered.ts';
import { Button } from '../../../ui/Button.tsx';
import { shapeOf } from '../useSmoothing.ts';
import type { FilledPlace } from './place.ts';

/** As long as tracks are where nothing else is known, in seconds: for where on the wished shape the stretch ends. */
const DEFAULT_LENGTH = 240;
const BOX = 'figures h-[26px] w-[52px] rounded-xs border border-line bg-sheet px-1.5 text-right';

interface Props {
  list: ListContents;
  place: FilledPlace;
  candidates: readonly SheetRow[];
  weights: FollowWeights;
}

export function Fill({ list, place, candidates, weights }: Props) {
  const [minutes, setMinutes] = useRemembered<number>('fill-minutes', 20);
  const [energy, setEnergy] = useState('');
  const typed = energy.trim() === '' ? null : Number(energy);
  const run = (): void => {
    const seconds = minutes * 60,
      count = list.entries.length,
      more = Math.max(1, Math.round(seconds / DEFAULT_LENGTH));
    const shape = shapeOf(list.info.shape);
    const { tracks } = fill(candidates, {
      before: place.before,
      after: place.after,
      near: place.near,
      wishedAt: shape && ((share) => wishedAt(shape, Math.min(1, (place.index + share * more) / (count + more)))),
      seconds,
      maxEnergy: typed,
      weights,
    });
    if (tracks.length === 0) {
      toast('Nothing here fits: take another list, or let the energy be higher', { duration: 4000 });
      return;
    }
    void change(
      post<Applied>(`/lists/${list.id}/entries`, {
        selection: { ids: tracks.map((t) => t.id) },
        index: place.index,
        once: true,
      }),
    );
  };
  return (
    <form
      className="mt-2 flex items-center gap-1.5 border-t border-line pt-2 text-small"
      onSubmit={(e) => {
        e.preventDefault();
        run();
      }}
    >
      <input
        aria-label="Minutes to fill"
        type="number"
        min={1}
        max={240}
        value={minutes}
        onChange={(e) => setMinutes(Math.min(240, Math.max(1, Math.round(Number(e.target.value) || 1))))}
        className={BOX}
      />
      <span>min</span>
      <input
        aria-label="Up to energy"
        inputMode="numeric"
        placeholder="max energy"
        value={energy}
        onChange={(e) => setEnergy(e.target.value.replace(/\D/g, '').slice(0, 3))}
        className={`${BOX} min-w-0 flex-1`}
      />
      <Button type="submit" disabled={candidates.length === 0}>
        Fill here
      </Button>
    </form>
  );
}
