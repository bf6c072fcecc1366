/** Hearing how an entry goes over into the next; where the list says otherwise meanwhile, it is made anew. */
import { useEffect, useRef } from 'react';
import type { ListEntryRow, TrackDetails } from '@early-set/core/api/types';
import { auditionGain } from '@early-set/core/arrange/audition';
import { gridOf } from '@early-set/core/analysis/gridOf';
import { planMix, type MixSide } from '@early-set/core/arrange/mix';
import { beatsPerBar, DEFAULT_RAMP_BARS, heardPart, type Schedule } from '@early-set/core/arrange/schedule';
import { hearMix, stopMix, useMix } from '../../../audition/mix/mixPlayer.ts';
import type { MixSound, MixTrack } from '../../../audition/mix/render.ts';
import { get } from '../../../data/api.ts';

export interface Hear {
  /** Plays the transition out of an entry, or stops it. */
  toggle: (index: number) => void;
}

/** The next entry that takes time; null when that is no track. */
export function nextTrack(entries: readonly ListEntryRow[], index: number): number | null {
  const next = entries.findIndex((e, i) => i > index && e.kind !== 'note');
  return next >= 0 && entries[next]!.kind === 'track' && entries[next]!.id > 0 ? next : null;
}

const NO_GRID: MixSide['grid'] = { beats: [], firstDownbeatSeconds: null, beatsPerBar: 4 };

const numeric = (value: unknown): number | null => (typeof value === 'number' ? value : null);

async function sideOf(entry: ListEntryRow): Promise<MixSide & MixTrack> {
  const track = await get<TrackDetails>(`/tracks/${entry.id}`);
  const part = heardPart({ kind: entry.kind, data: entry.data, values: track.values });
  return {
    id: entry.id,
    gainDb: auditionGain(numeric(track.values.lufs), numeric(track.values.truePeakDbtp)),
    ...part,
    grid: track.analysis ? gridOf(track.analysis.result, track.values) : NO_GRID,
  };
}

async function planned(
  [from, to]: [ListEntryRow, ListEntryRow],
  index: number,
  { over, played }: Schedule,
  keyLock: boolean,
): Promise<MixSound> {
  const [first, second] = await Promise.all([sideOf(from), sideOf(to)]);
  const own = numeric(from.values.bpm),
    at = played[index];
  const { seconds, by } = over[index]!;
  const mix = planMix(first, second, {
    over: seconds,
    rate: own && at ? at.to / own : 1,
    meet: by === 'hand' ? 'beat' : 'bar',
  });
  const bars = to.data.tempo === 'ramp' ? (to.data.rampBars ?? DEFAULT_RAMP_BARS) : null;
  const ramp = bars && mix.beat ? bars * mix.beat * beatsPerBar(to.values) : null;
  return { mix, first, second, keyLock, ramp };
}

export function useHear(entries: readonly ListEntryRow[], plan: Schedule, keyLock: boolean): Hear {
  const mix = useMix();
  return {
    toggle(index) {
      if (mix.name === entries[index]?.entryId && mix.state !== 'silent') stopMix();
      else play(entries, index, plan, keyLock);
    },
  };
}

function play(entries: readonly ListEntryRow[], index: number, plan: Schedule, keyLock: boolean): void {
  const next = nextTrack(entries, index),
    from = entries[index];
  if (!from || next === null) return;
  void hearMix(from.entryId, () => planned([from, entries[next]!], index, plan, keyLock));
}

/** Makes what is heard anew where the list says otherwise, and ends it with the page. */
export function useHeardAnew(entries: readonly ListEntryRow[], plan: Schedule, keyLock: boolean): void {
  const { name } = useMix();
  const index = entries.findIndex((e) => e.entryId === name);
  const next = index < 0 ? null : nextTrack(entries, index);
  const said =
    next === null
      ? ''
      : JSON.stringify([plan.over[index], plan.played[index], entries[index]!.data, entries[next]!.data, keyLock]);
  const last = useRef({ name, said });
  useEffect(() => {
    const before = last.current;
    last.current = { name, said };
    if (name === null || before.name !== name || before.said === said) return;
    if (next === null) stopMix();
    else play(entries, index, plan, keyLock);
  });
  useEffect(() => stopMix, []);
}
