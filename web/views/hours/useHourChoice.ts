/** What is chosen in an hour, and what keys and the menu do with it. */
import { useState } from 'react';
import type { HourContents, HourLine } from '@early-set/core/api/hours';
import type { Applied, TrackDetails } from '@early-set/core/api/types';
import { toggleAudition } from '../../audition/player.ts';
import { menuItem, tableActions, useKeys, type KeyActions } from '../../commands/commands.ts';
import { change, complain } from '../../data/actions.ts';
import { get, post } from '../../data/api.ts';
import { chooseOne, chooseRange, NOTHING, toggleOne, type Chosen, type How } from '../../ui/grid/choice.ts';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import type { MenuItem } from '../../ui/Menu.tsx';

export interface HourChoice {
  chosen: Chosen<string>;
  choose: (index: number, how: How) => void;
  onKey: (e: React.KeyboardEvent<HTMLElement>) => void;
  audition: (index: number) => void;
  menu: MenuItem[];
  inHand: HourLine | undefined;
}

/** Plays a track that is known by its id. */
export const auditionById = (trackId: number): void =>
  void get<TrackDetails>(`/tracks/${trackId}`).then(toggleAudition, complain);

export function useHourChoice({ id, lines }: HourContents, instead: () => void): HourChoice {
  const [state, setState] = useState<{ ids: ReadonlySet<string>; focus: string | null; anchor: string | null }>({
    ids: new Set(),
    focus: null,
    anchor: null,
  });
  const placeOf = (entryId: string | null): number | null => {
    const at = lines.findIndex((l) => l.entryId === entryId);
    return at < 0 ? null : at;
  };
  const chosen: Chosen<string> = {
    ...NOTHING,
    ids: state.ids,
    focus: placeOf(state.focus),
    anchor: placeOf(state.anchor),
  };
  const set = ({ ids, focus, anchor }: Chosen<string>): void => {
    const idAt = (i: number | null): string | null => (i === null ? null : (lines[i]?.entryId ?? null));
    setState({ ids, focus: idAt(focus), anchor: idAt(anchor) });
  };
  const inHand = chosen.focus === null ? undefined : lines[chosen.focus];
  const picked = lines.filter((l) => state.ids.has(l.entryId));
  const ids = picked.map((l) => l.entryId);
  const none = picked.length === 0;
  const choose = (index: number, how: How): void => {
    const line = lines[index];
    if (!line) return;
    if (how === 'range' && chosen.anchor !== null) {
      const between = lines.slice(Math.min(chosen.anchor, index), Math.max(chosen.anchor, index) + 1);
      set(
        chooseRange(
          chosen,
          between.map((l) => l.entryId),
          chosen.anchor,
          index,
        ),
      );
    } else if (how === 'toggle') set({ ...toggleOne(chosen, line.entryId, index), focus: index });
    else set(chooseOne(line.entryId, index));
  };
  const step = (by: -1 | 1): void => {
    const first = lines.findIndex((l) => l.entryId === ids[0]),
      last = lines.findIndex((l) => l.entryId === ids.at(-1));
    const target = by < 0 ? first - 2 : last + 1;
    if (none || (by < 0 && first === 0) || target >= lines.length) return;
    const behind = target < 0 ? null : lines[target]!.entryId;
    void change(post<Applied>(`/lists/${id}/entries/move`, { entryIds: ids, behind }));
  };
  const isPinned = !none && picked.every((l) => l.pinned);
  /** A track leaves its place open; anything else goes with its place. */
  const tracks = picked.filter((l) => l.kind === 'track').map((l) => l.entryId);
  const opens = tracks.length > 0 && tracks.length === picked.length;
  const remove = (): void =>
    void change(
      opens
        ? post<Applied>(`/hours/${id}/open`, { entryIds: tracks })
        : post<Applied>(`/lists/${id}/entries/remove`, { entryIds: ids }),
    );
  const audition = (index: number): void => {
    const trackId = lines[index]?.trackId;
    if (trackId) auditionById(trackId);
  };
  const keys: KeyActions<'arrange'> = {
    audition: { run: () => inHand?.trackId && auditionById(inHand.trackId), disabled: !inHand?.trackId },
    up: { run: () => step(-1), disabled: none },
    down: { run: () => step(1), disabled: none },
    pin: {
      run: () => void change(post<Applied>(`/lists/${id}/entries/pin`, { entryIds: ids, pinned: !isPinned })),
      disabled: none,
      label: isPinned ? 'Unpin' : 'Pin to its place',
    },
    remove: { run: remove, disabled: none, label: opens ? 'Leave the slot open' : 'Remove from the hour' },
    follow: {
      run: instead,
      disabled: inHand?.kind !== 'track' && inHand?.kind !== 'open',
      label: 'Tracks that land on time',
    },
  };
  useKeys('arrange', keys);
  const onKey = gridKeys({
    count: lines.length,
    focus: chosen.focus,
    choose,
    all: () => setState({ ...state, ids: new Set(lines.map((l) => l.entryId)) }),
    none: () => setState({ ...state, ids: new Set() }),
    ...tableActions('arrange', keys),
  });
  const item = (name: 'audition' | 'up' | 'down' | 'pin' | 'remove' | 'follow'): MenuItem =>
    menuItem('arrange', name, keys[name]!);
  return {
    chosen,
    choose,
    onKey,
    audition,
    inHand,
    menu: [
      item('audition'),
      item('follow'),
      { ...item('up'), apart: true },
      item('down'),
      { ...item('pin'), apart: true },
      { ...item('remove'), danger: true, apart: true },
    ],
  };
}
