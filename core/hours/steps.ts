/** The steps by which an hour is filled: what is set, what is kept, and the places for tracks. */
import { EVERYTHING } from '../conditions/condition.ts';
import type { Airable } from './airing.ts';
import type { ClockItem, FixedTime, SetItem, Stretch } from './clock.ts';
import { lengthAt, type Pool, type Slot } from './pool.ts';

/** A track that stays where it is. */
export interface KeptItem {
  item: 'kept';
  name: string;
  fixed?: FixedTime;
  track: Airable;
  /** For how long it is on air, where nothing near it is filled. */
  seconds: number;
  /** Which item of a clock it stands for. */
  slot: number | null;
}
export type FilledFrom = ClockItem | KeptItem;

type Wanted = Exclude<ClockItem, SetItem>;
export type Fixed = { kind: 'fixed'; item: SetItem; slot: number };
export type Place = { kind: 'place'; slot: Slot; pool: Pool };
type Kept = { kind: 'kept'; item: KeptItem; slot: Slot };
export type Step = Fixed | Place | Kept;

const isSet = (item: FilledFrom | undefined): item is SetItem =>
  item?.item === 'spoken' || item?.item === 'link' || item?.item === 'jingle';

/** Seconds of an open place, where no track tells. */
export const OPEN_SECONDS = 210;

interface Steps {
  clock: { items: readonly FilledFrom[] };
  poolOf: (slot: Slot) => Pool;
}

/**
 * The steps of a stretch; of fillers there are as many as there is time for. What is spoken last lies over nothing,
 * since what follows begins at its own time.
 */
export function stepsOf(
  stretch: Stretch<FilledFrom>,
  former: FilledFrom | undefined,
  next: FilledFrom | undefined,
  { clock, poolOf }: Steps,
): Step[] {
  const { items } = stretch;
  const slotOf = (
    item: Wanted | KeptItem,
    at: number,
    before: FilledFrom | undefined,
    after: FilledFrom | undefined,
  ): Slot => ({
    name: item.name,
    at,
    fixed: item.fixed ?? null,
    from: item.item === 'kept' ? EVERYTHING : (item.from ?? EVERYTHING),
    energy: item.item === 'track' ? (item.energy ?? null) : null,
    bpm: item.item === 'track' ? (item.bpm ?? null) : null,
    link: isSet(before) ? (before.overIntro ?? null) : null,
    direct: !isSet(before),
    beforeSpoken: after?.item === 'spoken' || after?.item === 'link',
    spare: item.item === 'filler',
  });
  const usual = (item: Wanted): number => lengthAt(poolOf(slotOf(item, 0, undefined, undefined)), 0.5) || OPEN_SECONDS;
  const lasts = (item: FilledFrom): number =>
    isSet(item)
      ? item.seconds
      : item.item === 'kept'
        ? item.track.air.natural
        : item.item === 'track'
          ? usual(item)
          : 0;
  const set = items.reduce((sum, item) => sum + lasts(item), 0);
  let left = stretch.to.at - stretch.from - set;
  const expanded = items.flatMap((item): FilledFrom[] => {
    if (item.item !== 'filler') return [item];
    const each = usual(item);
    const count = Math.min(item.most, Math.max(0, Math.round(left / each)));
    left -= count * each;
    return Array.from({ length: count }, () => item);
  });
  // The time of a stretch is that of its first item, whatever that has come to be.
  const begins = items[0]?.fixed ?? null;
  return expanded.map((own, i): Step => {
    const item = timedBy(own, i === 0 ? begins : null),
      at = own.item === 'kept' ? (own.slot ?? -1) : clock.items.indexOf(own);
    if (isSet(item))
      return { kind: 'fixed', slot: at, item: i === expanded.length - 1 ? endingWithItself(item) : item };
    const before = expanded[i - 1] ?? (isSet(former) ? endingWithItself(former) : former);
    const slot = slotOf(item, at, before, expanded[i + 1] ?? next);
    return item.item === 'kept' ? { kind: 'kept', item, slot } : { kind: 'place', slot, pool: poolOf(slot) };
  });
}

function timedBy<I extends FilledFrom>(item: I, fixed: FixedTime | null): I {
  const own = { ...item };
  delete own.fixed;
  return fixed ? { ...own, fixed } : own;
}

function endingWithItself(item: Fixed['item']): Fixed['item'] {
  const alone = { ...item };
  delete alone.overIntro;
  return alone;
}
