/** How a playlist runs: starts, lengths, tempi, and how far entries lie over each other. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { EntryData } from '../changes/snapshot.ts';
import type { TrackValues } from '../fields/values.ts';
import { schedule, type Timed } from './schedule.ts';

const track = (durationSeconds: number | null, data: EntryData = {}, values: TrackValues = {}): Timed => ({
  kind: 'track',
  data,
  values: { durationSeconds, ...values },
});
const other = (kind: Timed['kind'], data: EntryData): Timed => ({ kind, data, values: {} });

describe('when entries begin', () => {
  test('starts add up; unknown lengths count nothing', () => {
    expect(schedule([track(60), track(null), track(90.5)])).toMatchObject({ starts: [0, 60, 60], total: 150.5 });
  });
  test('what is no track takes its time too; a note takes none; own start and end and overlap count', () => {
    const { starts, total } = schedule([
      track(100, { from: 10, to: 70, overlap: 5 }),
      other('link', { seconds: 20, text: 'Good evening' }),
      other('note', { seconds: 99 }),
      other('pause', { seconds: 4 }),
      track(30),
    ]);
    expect(starts).toEqual([0, 55, 75, 75, 79]);
    expect(total).toBe(109);
  });
  test('a track is heard from its audible start to its audible end', () => {
    const edges = { audibleStartSeconds: 0.5, audibleEndSeconds: 58 };
    expect(schedule([track(60, {}, edges), track(60)])).toMatchObject({ starts: [0, 57.5], lengths: [57.5, 60] });
    expect(schedule([track(60, { from: 10, to: 59 }, edges)]).lengths).toEqual([49]);
  });
  test('nothing begins before what stands before it, and nothing ends after the end', () => {
    const entry = fc
      .tuple(
        fc.constantFrom('track' as const, 'pause' as const, 'note' as const),
        fc.record({
          durationSeconds: fc.option(fc.integer({ min: 0, max: 600 })),
          bpm: fc.option(fc.integer({ min: 60, max: 200 })),
          segueSeconds: fc.option(fc.integer({ min: 0, max: 600 })),
          introEndSeconds: fc.option(fc.integer({ min: 0, max: 60 })),
          outroStartSeconds: fc.option(fc.integer({ min: 0, max: 600 })),
        }),
        fc.record(
          {
            seconds: fc.nat(60),
            overlap: fc.nat(900),
            overlapBars: fc.nat(64),
            tempo: fc.constantFrom('former' as const, 'ramp' as const),
            rampBars: fc.integer({ min: 1, max: 64 }),
          },
          { requiredKeys: [] },
        ),
      )
      .map(([kind, values, data]): Timed => ({ kind, values, data }));
    fc.assert(
      fc.property(fc.array(entry), (entries) => {
        const { starts, lengths, total } = schedule(entries);
        starts.forEach((start, i) => {
          expect(start).toBeGreaterThanOrEqual((starts[i - 1] ?? 0) - 1e-9);
          expect(lengths[i]).toBeGreaterThanOrEqual(0);
          expect(start + lengths[i]!).toBeLessThanOrEqual(total + 1e-6);
        });
      }),
    );
  });
});

describe('how far one lies over the next', () => {
  const house = { bpm: 120, introEndSeconds: 32, outroStartSeconds: 150, segueSeconds: 178 };
  test('outro over intro, in fours of bars, where the tempi go together', () => {
    const { over, starts } = schedule([track(180, {}, house), track(180, {}, { ...house, bpm: 122 })]);
    expect(over[0]).toEqual({ seconds: 24, bars: 12, by: 'outro and intro' });
    expect(starts[1]).toBe(156);
  });
  test('else from the segue point on; nothing where there is none', () => {
    const far = { ...house, bpm: 150 };
    expect(schedule([track(180, {}, house), track(180, {}, far)]).over[0]).toEqual({
      seconds: 2,
      bars: 1,
      by: 'segue point',
    });
    expect(schedule([track(180), track(180)]).over[0]).toMatchObject({ seconds: 0, by: 'nothing' });
  });
  test('by hand in bars or seconds; never longer than the track itself', () => {
    const by = (data: EntryData) => schedule([track(180, data, house), track(180, {}, house)]).over[0];
    expect(by({ overlapBars: 8 })).toEqual({ seconds: 16, bars: 8, by: 'hand' });
    expect(by({ overlap: 5 })).toEqual({ seconds: 5, bars: 2.5, by: 'hand' });
    expect(by({ overlap: 0 })).toMatchObject({ seconds: 0, by: 'hand' });
    expect(by({ overlap: 900 })).toMatchObject({ seconds: 180 });
  });
  test('nothing lies over what is no track by itself, and a note between tracks is no matter', () => {
    const [a, b] = [track(180, {}, house), track(180, {}, house)];
    expect(schedule([a, other('pause', { seconds: 5 }), b]).over[0]).toMatchObject({ seconds: 0 });
    expect(schedule([a, other('note', {}), b]).over[0]).toMatchObject({ by: 'outro and intro' });
  });
});

describe('at which tempo', () => {
  test("the former's all through: it lasts so much shorter", () => {
    const { played, lengths } = schedule([track(100, {}, { bpm: 126 }), track(100, { tempo: 'former' }, { bpm: 120 })]);
    expect(played[1]).toEqual({ from: 126, to: 126, beats: 0 });
    expect(lengths[1]).toBeCloseTo((100 * 120) / 126, 9);
  });
  test('counted double where that is nearer', () => {
    const { played } = schedule([track(100, {}, { bpm: 170 }), track(100, { tempo: 'former' }, { bpm: 86 })]);
    expect(played[1]!.to).toBe(85);
  });
  test('over so many bars to its own: between the two, as the beats add up', () => {
    const data: EntryData = { tempo: 'ramp', rampBars: 8 };
    const { lengths } = schedule([track(100, {}, { bpm: 126 }), track(100, data, { bpm: 120 })]);
    // 32 beats, each at the tempo reached in its middle
    const beats = Array.from({ length: 32 }, (_, i) => 60 / (126 - (6 * (i + 0.5)) / 32)).reduce((a, b) => a + b);
    expect(lengths[1]).toBeCloseTo(100 - 16 + beats, 3);
  });
  test('what comes behind goes on from the tempo that was reached', () => {
    const { played } = schedule([
      track(100, {}, { bpm: 126 }),
      track(100, { tempo: 'former' }, { bpm: 124 }),
      track(100, { tempo: 'former' }, { bpm: 122 }),
    ]);
    expect(played[2]!.to).toBe(126);
  });
});
