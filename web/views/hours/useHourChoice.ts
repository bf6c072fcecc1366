/** What is chosen in an hour, and what keys and the menu do with it. */
import type { HourContents, HourLine } from '@early-set/core/api/hours';
import type { Applied } from '@early-set/core/api/types';
import { auditionById } from '../../audition/auditionById.ts';
import { menuItem, tableActions, useKeys, type KeyActions } from '../../commands/commands.ts';
import { change } from '../../data/actions.ts';
import { post } from '../../data/api.ts';
import type { Chosen, How } from '../../ui/grid/choice.ts';
import { gridKeys } from '../../ui/grid/gridKeys.ts';
import { useRowChoice } from '../../ui/grid/useRowChoice.ts';
import type { MenuItem } from '../../ui/Menu.tsx';

export interface HourChoice {
  chosen: Chosen<string>;
  choose: (index: number, how: How) => void;
  onKey: (e: React.KeyboardEvent<HTMLElement>) => void;
  audition: (index: number) => void;
  menu: MenuItem[];
  inHand: HourLine | undefined;
}

export function useHourChoice({ id, lines }: HourContents, instead: () => void): HourChoice {
  const { chosen, choose, all, none: chooseNone, picked: ids } = useRowChoice(lines.map((l) => l.entryId));
  const inHand = chosen.focus === null ? undefined : lines[chosen.focus];
  const picked = lines.filter((l) => chosen.ids.has(l.entryId));
  const none = picked.length === 0;
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
    all,
    none: chooseNone,
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
