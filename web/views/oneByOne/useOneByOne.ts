/** Tracks one after the other, to be judged by ear: what is shown is what plays. */
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { SheetRow } from '@early-set/core/api/types';
import { audition, isPlaying, toggleAudition, useFollow, usePlayer, type PlayOrder } from '../../audition/player.ts';
import { handed, TRACKS_ADDRESS } from '../../data/handed.ts';
import { useRemembered } from '../../data/remembered.ts';

/** Share of a track's length at which it is heard first: past the intro, where most have begun in earnest. */
const FROM = 0.35;

export interface OneByOne {
  at: number;
  row: SheetRow | undefined;
  playing: boolean;
  /** Shows a track, and plays it when each is to be played. */
  choose: (id: number) => void;
  go: (by: 1 | -1) => void;
  /** Plays what is shown, or pauses it. */
  toggle: () => void;
  automatic: boolean;
  setAutomatic: (on: boolean) => void;
  leave: () => void;
}

/**
 * @param name of the order, another when other tracks are shown
 * @param first the track to begin with, when it is among them
 */
export function useOneByOne(name: string, rows: readonly SheetRow[], first: number | null = null): OneByOne {
  const [chosen, setChosen] = useState<number | null>(first);
  const [automatic, setAutomatic] = useRemembered<boolean>('play-each', true);
  const player = usePlayer();
  const navigate = useNavigate();
  const found = rows.findIndex((r) => r.id === chosen);
  const at = Math.max(0, found);
  const row = rows[at];
  const latest = useRef(rows);
  useEffect(() => {
    latest.current = rows;
  });
  const orderAt = (index: number): PlayOrder => ({
    name,
    at: index,
    rowAt: (i) => latest.current[i],
    from: FROM,
  });
  const show = (index: number): void => {
    const next = rows[index];
    if (!next) return;
    setChosen(next.id);
    if (automatic || player.playing) audition(next, orderAt(index));
  };
  useFollow(name, (index) => setChosen(latest.current[index]?.id ?? null));
  // Something else that plays on coming here gives way to what is shown.
  const shownId = row?.id ?? null;
  const begun = useRef<string | null>(null);
  useEffect(() => {
    if (shownId === null || begun.current === name) return;
    begun.current = name;
    const shown = latest.current[at];
    if (shown && isPlaying()) audition(shown, { ...orderAt(at), from: 0 });
  });
  return {
    at,
    row,
    playing: player.playing && player.track?.id === shownId,
    choose: (id) => show(rows.findIndex((r) => r.id === id)),
    go: (by) => show(at + by),
    toggle: () => {
      if (row) toggleAudition(row, orderAt(at));
    },
    automatic,
    setAutomatic,
    leave: () => void navigate(handed(TRACKS_ADDRESS, '/tracks')),
  };
}
