import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { airTime, fitted } from './airtime.ts';
import { airable, airLog, aliasNames, forbidden, type Airable } from './airing.ts';
import { stretches, type ClockItem, type FormatClock } from './clock.ts';
import { fillHours, hoursBetween, judgeHours } from './day.ts';
import { instead, swapped, timed } from './edit.ts';
import { forbiddenIn, judge, type HourItem } from './judge.ts';
import { madeUpTracks } from './madeUp.ts';
import { readClock, readWeek } from './readClock.ts';
import { ruleText, type HourRule } from './rules.ts';
import { clockAt, type ClockWeek } from './week.ts';

const FROM = new Date(2026, 11, 1, 19).getTime() / 1000;
const library = (count: number, seed = 1): Airable[] =>
  madeUpTracks(count, seed).flatMap((values, id) => airable(id, values, aliasNames()) ?? []);
const news: ClockItem = { item: 'spoken', name: 'News', seconds: 120, fixed: { at: 0, when: 'exact' } };
const headlines: ClockItem = { item: 'spoken', name: 'Headlines', seconds: 60, fixed: { at: 1800, when: 'exact' } };
const link: ClockItem = { item: 'link', name: 'Good evening', seconds: 45, overIntro: 12 };
const track: ClockItem = { item: 'track', name: 'Track' };
const filler: ClockItem = { item: 'filler', name: 'Filler', most: 12 };
const hard = { hard: true, weight: 10 };
const wished = { hard: false, weight: 10 };
const clockOf = (rules: readonly HourRule[], items: readonly ClockItem[] = EVENING): FormatClock => ({
  name: 'Evening hour',
  seconds: 3600,
  items,
  rules,
});
const EVENING: ClockItem[] = [news, link, { ...track, energy: 40 }, filler, headlines, link, filler];

describe('time on air', () => {
  test('goes from audible start to segue point, and can be bent between outro and end', () => {
    expect(
      airTime({
        durationSeconds: 200,
        audibleStartSeconds: 1,
        introEndSeconds: 11,
        outroStartSeconds: 170,
        segueSeconds: 190,
        audibleEndSeconds: 198,
      }),
    ).toEqual({ start: 1, intro: 10, natural: 189, shortest: 169, longest: 197 });
    expect(airTime({ durationSeconds: 200 })).toEqual({
      start: 0,
      intro: 0,
      natural: 200,
      shortest: 200,
      longest: 200,
    });
    expect(airTime({ durationSeconds: null })).toBeNull();
  });
  test('together they come as near to a time as they can, none beyond what it can be', () => {
    const air = fc
      .tuple(
        fc.double({ min: 10, max: 300, noNaN: true }),
        fc.double({ min: 0, max: 30, noNaN: true }),
        fc.double({ min: 0, max: 30, noNaN: true }),
      )
      .map(([natural, less, more]) => ({
        start: 0,
        intro: 0,
        natural,
        shortest: Math.max(0, natural - less),
        longest: natural + more,
      }));
    fc.assert(
      fc.property(fc.array(air, { maxLength: 8 }), fc.double({ min: -100, max: 100, noNaN: true }), (tracks, by) => {
        const wish = tracks.reduce((s, t) => s + t.natural, 0) + by;
        const { lengths, off } = fitted(tracks, wish);
        expect(lengths.reduce((a, b) => a + b, 0) + off).toBeCloseTo(wish, 6);
        lengths.forEach((l, i) => {
          expect(l).toBeGreaterThanOrEqual(tracks[i]!.shortest - 1e-9);
          expect(l).toBeLessThanOrEqual(tracks[i]!.longest + 1e-9);
        });
        const reach = tracks.reduce((s, t) => s + (by > 0 ? t.longest - t.natural : t.natural - t.shortest), 0);
        if (Math.abs(by) <= reach) expect(off).toBeCloseTo(0, 6);
      }),
    );
  });
});

describe('what may be on air', () => {
  const at = (text: string): Date => new Date(`2026-12-01T${text}`);
  test.each([
    [{ playFrom: '2026-12-02' }, '19:00', undefined, 'not to be played yet'],
    [{ playTo: '2026-11-30' }, '19:00', undefined, 'not to be played any more'],
    [{ playFrom: '2026-12-01', playTo: '2026-12-01' }, '19:00', undefined, null],
    [{ dayparts: ['06:00-10:00', '22:00-02:00'] }, '19:00', undefined, 'not at this time of day'],
    [{ dayparts: ['06:00-10:00', '22:00-02:00'] }, '01:30', undefined, null],
    [{ explicit: true }, '19:00', '22:00', 'explicit words not before 22:00'],
    [{ explicit: true }, '23:10', '22:00', null],
    [{ explicit: true }, '05:00', '22:00', null],
    [{ explicit: true }, '19:00', undefined, null],
  ])('%j at %s', (values, time, explicitFrom, why) => {
    expect(forbidden(values, at(time), explicitFrom)).toBe(why);
  });
  test('aliases are one artist', () => {
    const alias = aliasNames([['Odette Kassar', 'O. Kassar']]);
    const of = (artist: string): Airable => airable(1, { durationSeconds: 100, artist: [artist] }, alias)!;
    expect(of('O. KASSAR').names.artist).toEqual(of('Odette Kassar').names.artist);
  });
});

test('a clock is cut at its fixed times', () => {
  expect(stretches(clockOf([])).map((s) => [s.from, s.to.at, s.items.length])).toEqual([
    [0, 1800, 4],
    [1800, 3600, 3],
  ]);
  expect(stretches({ items: [track, headlines], seconds: 3600 }).map((s) => [s.from, s.to.at])).toEqual([
    [0, 1800],
    [1800, 3600],
  ]);
});

test('days on which the clock changes have 23 and 25 hours', () => {
  // Midnights of central Europe, where the clock went on in March and back in October 2026.
  const midnights = (from: string, to: string): number[] => hoursBetween(new Date(from), new Date(to));
  expect(midnights('2026-03-29T00:00+01:00', '2026-03-30T00:00+02:00')).toHaveLength(23);
  const long = midnights('2026-10-25T00:00+02:00', '2026-10-26T00:00+01:00');
  expect([long.length, new Set(long).size]).toEqual([25, 25]);
  const filled = fillHours({ hours: long, clockOf: () => clockOf([]), tracks: library(600) });
  expect(filled.map((h) => h.items[0]!.at)).toEqual(long);
});

const anyRule: fc.Arbitrary<HourRule> = fc
  .tuple(
    fc.oneof(
      fc.record({
        rule: fc.constant('apart' as const),
        what: fc.constantFrom('artist' as const, 'title' as const, 'label' as const, 'remixer' as const),
        minutes: fc.integer({ min: 5, max: 180 }),
      }),
      fc.record({ rule: fc.constant('rested' as const), days: fc.integer({ min: 1, max: 7 }) }),
      fc.record({
        rule: fc.constant('in a row' as const),
        what: fc.constantFrom('genre' as const, 'decade' as const, 'tempo' as const, 'mood' as const),
        most: fc.integer({ min: 1, max: 3 }),
      }),
      fc.record({
        rule: fc.constant('new' as const),
        days: fc.integer({ min: 1, max: 400 }),
        count: fc.integer({ min: 0, max: 3 }),
      }),
      fc
        .tuple(fc.double({ min: 0, max: 0.5, noNaN: true }), fc.double({ min: 0.5, max: 1, noNaN: true }))
        .map(([least, most]) => ({
          rule: 'share' as const,
          name: 'house',
          from: { field: 'genre', test: 'one of' as const, values: ['House'] },
          least,
          most,
        })),
      fc.constant({ rule: 'instrumental before link' as const }),
      fc.constant({ rule: 'intro for link' as const }),
      fc.constant({ rule: 'cold end before soft start' as const }),
      fc.record({ rule: fc.constant('loudness step' as const), most: fc.integer({ min: 1, max: 8 }) }),
    ),
    fc.boolean(),
  )
  .map(([rule, isHard]) => ({ ...rule, ...(isHard ? hard : wished) }) as HourRule);
const anyItem: fc.Arbitrary<ClockItem> = fc.oneof(
  fc.constant<ClockItem>(link),
  fc.constant<ClockItem>({ item: 'jingle', name: 'Sting', seconds: 8 }),
  fc.constant<ClockItem>(track),
  fc.constant<ClockItem>({ ...track, from: { field: 'genre', test: 'one of', values: ['House', 'Soul'] }, energy: 70 }),
  fc.constant<ClockItem>(filler),
);
const anyClock: fc.Arbitrary<FormatClock> = fc
  .tuple(
    fc.array(anyItem, { minLength: 1, maxLength: 6 }),
    fc.array(anyItem, { minLength: 1, maxLength: 6 }),
    fc.array(anyRule, { maxLength: 5 }),
    fc.constantFrom('exact' as const, 'not before' as const),
  )
  .map(([first, second, rules, when]) =>
    clockOf(rules, [news, ...first, { ...headlines, fixed: { at: 1800, when } }, ...second] as ClockItem[]),
  );

/** Every item begins where the one before ends, but for intros that lie under what is spoken, and late starts. */
function addUp(items: readonly HourItem[], hourAt: number): void {
  items.forEach((item, i) => {
    const before = items[i - 1];
    if (!before) {
      expect(item.at).toBeCloseTo(hourAt, 3);
      return;
    }
    const end = before.at + before.seconds;
    if (item.kind === 'track' && before.kind !== 'track' && before.kind !== 'open')
      expect(item.at).toBeCloseTo(end - Math.min(before.overIntro ?? 0, item.track.air.intro), 3);
    else expect(item.at).toBeGreaterThan(end - 0.001);
  });
}

describe('filling', () => {
  test('keeps hard rules and adds up, whatever the library and the clock', () => {
    fc.assert(
      fc.property(anyClock, fc.constantFrom(0, 3, 40, 300), fc.nat(1000), (clock, count, seed) => {
        const tracks = library(count, seed);
        const hours = [FROM, FROM + 3600];
        const filled = fillHours({ hours, clockOf: () => clock, tracks, seed });
        const judged = judgeHours(hours, () => clock, filled);
        for (const [i, { items, landings }] of filled.entries()) {
          addUp(items, hours[i]!);
          for (const verdict of judged[i]!)
            if (verdict.rule.hard) expect([verdict.text, verdict.state]).not.toEqual([verdict.text, 'broken']);
          expect(forbiddenIn(items, clock.explicitFrom)).toEqual([]);
          expect(landings).toHaveLength(2);
          // Worked out anew from lengths alone, every time is the same.
          const again = timed(items, hours[i]!, clock.seconds);
          again.items.forEach((item, k) => expect(item.at).toBeCloseTo(items[k]!.at, 3));
          again.landings.forEach((l, k) => expect(l.off).toBeCloseTo(landings[k]!.off, 2));
          const used = items.flatMap((item) => (item.kind === 'track' ? [item.track] : []));
          expect(new Set(used.map((t) => t.id)).size).toBe(used.length);
          for (const item of items) if (item.kind === 'open') expect(item.reason).not.toBe('');
        }
      }),
      { numRuns: 100 },
    );
  });
  test('lands on the second, and says what stood in the way of an open place', () => {
    const apart: HourRule = { ...hard, rule: 'apart', what: 'artist', minutes: 90 };
    const [hour] = fillHours({ hours: [FROM], clockOf: () => clockOf([apart]), tracks: library(800) });
    expect(hour!.landings.map((l) => [l.name, Math.abs(l.off) < 1])).toEqual([
      ['Headlines', true],
      ['end of the hour', true],
    ]);
    expect(hour!.items.every((i) => i.kind !== 'open')).toBe(true);
    expect(hour!.items.find((i) => i.name === 'Headlines')!.at).toBeCloseTo(FROM + 1800, 0);
    const one = library(20).map((t) => ({ ...t, names: { ...t.names, artist: ['one'] } }));
    const [poor] = fillHours({ hours: [FROM], clockOf: () => clockOf([apart]), tracks: one });
    const open = poor!.items.flatMap((i) => (i.kind === 'open' ? [i.reason] : []));
    expect(new Set(open)).toEqual(new Set([ruleText(apart)]));
    expect(poor!.items.filter((i) => i.kind === 'track')).toHaveLength(1);
  });
  test('of a filler as many places as there is time for: longer tracks take fewer, and none stays open for it', () => {
    const rested: HourRule = { ...hard, rule: 'rested', days: 1 };
    const [some] = library(1);
    // Most tracks last a minute, and were on air today; what is left is longer.
    const tracks = Array.from({ length: 100 }, (_, id): Airable => {
      const natural = id < 60 ? 60 : 100 + ((id * 7) % 50);
      const air = { start: 0, intro: 0, natural, shortest: natural - 12, longest: natural + 2 };
      return { ...some!, id, air };
    });
    const aired = tracks.slice(0, 60).map((t, i) => ({ at: FROM - 7200 + i * 60, track: t }));
    const clock = clockOf([rested], [news, { ...filler, most: 30 }, headlines, { ...filler, most: 30 }]);
    const [hour] = fillHours({ hours: [FROM], clockOf: () => clock, tracks, aired });
    expect(hour!.landings.map((l) => Math.abs(l.off) < 1)).toEqual([true, true]);
    expect(hour!.items.filter((i) => i.kind === 'open')).toEqual([]);
    const before = hour!.items.findIndex((i) => i.name === 'Headlines');
    expect(before).toBeLessThan(20);
  });
  test('equal seeds give equal hours', () => {
    const ids = (seed: number): unknown =>
      fillHours({ hours: [FROM], clockOf: () => clockOf([]), tracks: library(200), seed }).map((h) =>
        h.items.map((i) => (i.kind === 'track' ? i.track.id : i.name)),
      );
    expect(ids(3)).toEqual(ids(3));
    expect(ids(3)).not.toEqual(ids(4));
  });
});

describe('by hand', () => {
  const rules: HourRule[] = [
    { ...hard, rule: 'apart', what: 'artist', minutes: 90 },
    { ...wished, rule: 'loudness step', most: 3 },
  ];
  test('what could go instead says how it would land, and it does; the rest stays as it was', () => {
    const tracks = library(400);
    fc.assert(
      fc.property(fc.nat(1000), fc.nat(100), fc.nat(30), (seed, at, which) => {
        const clock = clockOf(rules);
        const { items } = fillHours({ hours: [FROM], clockOf: () => clock, tracks, seed })[0]!;
        const places = items.flatMap((item, i) => (item.kind === 'track' ? [i] : []));
        const place = places[at % places.length]!;
        const hour = { clock, items, hourAt: FROM, log: airLog(), before: [] };
        const found = instead(hour, place, tracks.slice(0, 120));
        const used = items.flatMap((item) => (item.kind === 'track' ? [item.track.id] : []));
        expect(found.some((f) => used.includes(f.track.id))).toBe(false);
        // Those that keep hard rules first, and of these the ones that land best.
        const order = found.map((f) => (f.broken.some((b) => b.rule.hard) ? 1e6 : 0) + Math.abs(f.off));
        expect(order).toEqual([...order].sort((a, b) => a - b));
        const taken = found[which % found.length]!;
        const after = timed(swapped(items, place, taken.track), FROM, clock.seconds);
        const section = items.findIndex((item) => item.name === 'Headlines') > place ? 0 : 1;
        expect(after.landings[section]!.off).toBeCloseTo(taken.off, 2);
        // It breaks just what it says.
        const broken = (of: readonly HourItem[]): string[] =>
          judge(clock, of, FROM, airLog()).flatMap((j) => (j.state === 'broken' ? [j.text] : []));
        const before = broken(items);
        expect(broken(after.items).filter((text) => !before.includes(text))).toEqual(
          taken.broken.map((b) => b.text).filter((text) => !before.includes(text)),
        );
        // Undone by swapping back: only the bent end of the one in hand is its natural one now.
        const { track } = items[place] as { track: Airable };
        const back = timed(swapped(after.items, place, track), FROM, clock.seconds).items;
        const same = (item: HourItem) => ({
          ...item,
          at: 0,
          seconds: item === items[place] ? track.air.natural : item.seconds,
        });
        expect(back.map((item) => ({ ...item, at: 0 }))).toEqual(items.map(same));
      }),
      { numRuns: 25 },
    );
  });
  test('what comes too early waits for its time, what comes too late moves all behind it', () => {
    const item = (seconds: number, at?: number): HourItem => ({
      kind: 'spoken',
      at: 0,
      seconds,
      name: 'x',
      fixed: at === undefined ? null : { at, when: 'exact' },
      slot: -1,
      overIntro: null,
      bed: null,
    });
    const hour = (first: number) => timed([item(first), item(60, 1800), item(1000)], FROM, 3600);
    expect(
      [hour(1700), hour(1820)].map((h) => [h.items.map((i) => i.at - FROM), h.landings.map((l) => l.off)]),
    ).toEqual([
      [
        [0, 1800, 1860],
        [-100, -740],
      ],
      [
        [0, 1820, 1880],
        [20, -720],
      ],
    ]);
  });
});

describe('a clock from outside', () => {
  const plain = { version: 1, name: 'Night', items: [{ item: 'track' }, { item: 'filler' }] };
  test('is read with what may be left out', () => {
    expect(readClock(plain)).toEqual({
      name: 'Night',
      seconds: 3600,
      items: [
        { item: 'track', name: 'Track' },
        { item: 'filler', name: 'Filler', most: 10 },
      ],
      rules: [],
    });
    expect(readClock({ ...plain, rules: [{ rule: 'rested', days: 7, hard: true }] })).toMatchObject({
      rules: [{ rule: 'rested', days: 7, hard: true, weight: 10 }],
    });
  });
  test.each([
    [{ ...plain, version: 2 }, /version/],
    [{ ...plain, items: [] }, /items/],
    [{ ...plain, items: [{ item: 'song' }] }, /item/],
    [{ ...plain, items: [{ item: 'link', name: 'x' }] }, /seconds/],
    [{ ...plain, rules: [{ rule: 'loud' }] }, /rule/],
    [{ ...plain, rules: [{ rule: 'apart', what: 'artist' }] }, /minutes/],
    [{ ...plain, items: [headlines, { ...news, fixed: { at: 600 } }] }, /"News" is to begin before/],
    [{ ...plain, items: [{ ...headlines, fixed: { at: 3600 } }] }, /after the end of the hour/],
    ['{}', /object/],
  ])('is refused with a sentence: %#', (value, said) => {
    expect(readClock(value)).toMatch(said);
  });
});

describe('clocks by weekdays and times', () => {
  const clock = (name: string) => ({ name, items: [{ item: 'filler' }] });
  const week = {
    version: 1,
    clocks: [clock('Evening'), clock('Night')],
    week: [
      { days: ['fri'], from: '19:00', to: '23:00', clock: 'Evening' },
      { days: ['fri', 'sat'], from: '23:00', to: '02:00', clock: 'Night' },
    ],
  };
  test('each hour has the first that fits, past midnight too', () => {
    const read = readWeek(week) as ClockWeek;
    const names = (day: number, hours: number[]): (string | undefined)[] =>
      hours.map((h) => clockAt(read, new Date(2026, 11, day, h).getTime() / 1000)?.name);
    // 4 December 2026 is a Friday.
    expect(names(4, [1, 18, 19, 22, 23])).toEqual([undefined, undefined, 'Evening', 'Evening', 'Night']);
    expect(names(5, [1, 2, 19, 23])).toEqual(['Night', undefined, undefined, 'Night']);
    expect(names(6, [1, 2])).toEqual(['Night', undefined]);
    const hours = [22, 23, 27].map((h) => new Date(2026, 11, 4, h).getTime() / 1000);
    const filled = fillHours({ hours, clockOf: (at) => clockAt(read, at), tracks: library(100) });
    expect(filled.map((h) => h.items.length > 0)).toEqual([true, true, false]);
  });
  test('one clock is that of all hours; what does not go together is said', () => {
    const one = readWeek({ version: 1, ...clock('Only') }) as ClockWeek;
    for (let h = 0; h < 168; h++) expect(clockAt(one, FROM + h * 3600)?.name).toBe('Only');
    expect(readWeek({ ...week, week: [{ from: '10:00', to: '11:00', clock: 'Noon' }] })).toBe(
      'There is no clock "Noon"',
    );
    expect(readWeek({ ...week, week: [{ days: ['monday'], from: '10:00', to: '11:00', clock: 'Night' }] })).toMatch(
      /days/,
    );
    expect(readWeek({ ...week, clocks: [clock('Night'), clock('Night')] })).toMatch(/duplicate/);
    expect(readWeek({ version: 1 })).toMatch(/name/);
  });
});
