import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../signal/random.ts';
import { airable, airLog, aliasNames, type Airable } from './airing.ts';
import type { ClockItem, FormatClock } from './clock.ts';
import { fillHours } from './day.ts';
import { timed } from './edit.ts';
import { judge, type HourItem } from './judge.ts';
import { entryOf, itemsOf, keptClock, writeClock } from './kept.ts';
import { madeUpTracks } from './madeUp.ts';
import { pools } from './pool.ts';
import { newIn, refill } from './refill.ts';
import type { HourRule } from './rules.ts';

const FROM = new Date(2026, 11, 1, 19).getTime() / 1000;
const hard = { hard: true, weight: 10 };
const RULES: HourRule[] = [
  { ...hard, rule: 'apart', what: 'artist', minutes: 60 },
  { ...hard, rule: 'in a row', what: 'genre', most: 2 },
  { ...hard, rule: 'rested', days: 1 },
];
const ITEMS: ClockItem[] = [
  { item: 'spoken', name: 'News', seconds: 120, fixed: { at: 0, when: 'exact' } },
  { item: 'link', name: 'Good evening', seconds: 45, overIntro: 12, bed: 'Bed, Morning' },
  { item: 'track', name: 'Opener', energy: 40 },
  { item: 'filler', name: 'Filler', most: 12 },
  { item: 'spoken', name: 'Headlines', seconds: 60, fixed: { at: 1800, when: 'not before' } },
  { item: 'filler', name: 'Filler', most: 12 },
];
const clock: FormatClock = { name: 'Evening hour', seconds: 3600, items: ITEMS, rules: RULES };
const library = (count: number, seed: number): Airable[] =>
  madeUpTracks(count, seed).flatMap((values, id) => airable(id, values, aliasNames()) ?? []);
const filledWith = (tracks: readonly Airable[], seed = 1): HourItem[] =>
  fillHours({ hours: [FROM], clockOf: () => clock, tracks, seed })[0]!.items;
const refilled = (items: readonly HourItem[], tracks: readonly Airable[], seed = 1): HourItem[] => {
  const random = seeded(seed);
  return refill({ clock, items, hourAt: FROM, poolOf: pools(tracks, random), log: airLog(), before: [], random }).items;
};
const opened = (items: readonly HourItem[], which: (i: number) => boolean): HourItem[] =>
  items.map((item, i): HourItem => {
    if (item.kind !== 'track' || !which(i)) return item;
    const { at, seconds, name, fixed, slot } = item;
    return { kind: 'open', at, seconds, name, fixed, slot, reason: 'not filled yet' };
  });

describe('filling the open slots of an hour', () => {
  test('whatever is open: what is there stays, no hard rule is newly broken, and times add up', () => {
    const worlds = fc.record({
      count: fc.integer({ min: 15, max: 400 }),
      seed: fc.integer({ min: 1, max: 1000 }),
      open: fc.array(fc.nat(20), { minLength: 1, maxLength: 8 }),
    });
    fc.assert(
      fc.property(worlds, ({ count, seed, open }) => {
        const tracks = library(count, seed);
        const was = opened(filledWith(tracks, seed), (i) => open.includes(i));
        const now = refilled(was, tracks, seed);
        expect(now).toHaveLength(was.length);
        for (const [i, item] of was.entries())
          if (item.kind === 'track') expect(now[i]).toMatchObject({ kind: 'track', track: item.track });
          else if (item.kind !== 'open') expect(now[i]).toMatchObject({ kind: item.kind, name: item.name });
        const broken = (items: readonly HourItem[]): number =>
          judge(clock, items, FROM, airLog()).filter((j) => j.state === 'broken').length;
        expect(broken(now)).toBeLessThanOrEqual(broken(was));
        expect(timed(now, FROM, 3600).items).toEqual(now);
        const ids = now.flatMap((i) => (i.kind === 'track' ? [i.track.id] : []));
        expect(new Set(ids).size).toBe(ids.length);
      }),
      { numRuns: 40 },
    );
  });
  test('it lands again, and says what came in; a stretch without open slots is left as it is', () => {
    const tracks = library(2000, 3);
    const full = filledWith(tracks);
    const half = full.findIndex((i) => i.name === 'Headlines');
    const was = opened(full, (i) => i > half && i % 2 === 0);
    const now = refilled(was, tracks, 5);
    const told = (items: readonly HourItem[]): HourItem[] =>
      items.slice(0, half).map((i) => ({ ...i, at: Math.round(i.at * 1000) }));
    expect(told(now)).toEqual(told(full));
    expect(newIn(now, was).map((n) => n.place)).toEqual(was.flatMap((i, at) => (i.kind === 'open' ? [at] : [])));
    expect(timed(now, FROM, 3600).landings.map((l) => Math.abs(l.off) < 1)).toEqual([true, true]);
  });
  test('where nothing is left, the slot says why', () => {
    const tracks = library(400, 1);
    const full = filledWith(tracks);
    const was = opened(full, (i) => i === 2);
    const left = was.flatMap((i) => (i.kind === 'track' ? [i.track] : []));
    const slot = refilled(was, left)[2];
    expect(slot).toMatchObject({ kind: 'open', name: 'Opener', slot: 2 });
    expect(slot?.kind === 'open' && slot.reason).toMatch(/^(Not on air for 1 day|Same artist not within 60 min)$/);
  });
});

describe('an hour as a list', () => {
  test('is the same hour when it is read again', () => {
    const tracks = library(300, 2);
    const byId = new Map(tracks.map((t) => [t.id, t]));
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 500 }), fc.nat(12), (seed, open) => {
        const items = timed(
          opened(filledWith(tracks, seed), (i) => i === open),
          FROM,
          3600,
        ).items;
        const entries = items.map(entryOf);
        const read = itemsOf(entries, clock, (e) => byId.get(e.trackId ?? -1) ?? null).map((r) => r.item);
        const again = timed(read, FROM, 3600).items;
        expect(again).toHaveLength(items.length);
        for (const [i, item] of items.entries()) {
          expect(again[i]).toMatchObject({ kind: item.kind, name: item.name, fixed: item.fixed, slot: item.slot });
          expect(Math.abs(again[i]!.at - item.at)).toBeLessThan(0.02);
        }
        expect(read.map(entryOf)).toEqual(entries);
      }),
      { numRuns: 25 },
    );
  });
  test('a clock is kept with the times at which it is used', () => {
    const kept = { ...clock, times: [{ days: ['mon' as const], from: '19:00', to: '22:00' }] };
    expect(keptClock(writeClock(kept))).toEqual(kept);
    expect(keptClock(writeClock({ ...clock, times: [] }))).toEqual({ ...clock, times: [] });
  });
});
