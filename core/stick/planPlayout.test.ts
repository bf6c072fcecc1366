import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { readCsv } from '../exchange/csvTable.ts';
import type { TrackValues } from '../fields/values.ts';
import { TURNSTONE } from '../playout/system.ts';
import { PlanError, type Plan, type PlannedTrack } from './plan.ts';
import { planPlayout, type PlayoutHour } from './planPlayout.ts';

const track = (id: number, more: TrackValues = {}): PlannedTrack => ({
  ...{ id, ending: '.flac', codec: 'FLAC', lufs: -9, size: 30e6, seconds: 240, audioHash: `hash ${id}`, cover: null },
  unwritten: {},
  values: {
    ...{ title: `Song ${id}`, artist: ['Iri Vane'], playoutId: id, lufs: -9, durationSeconds: 240 },
    ...{ audibleStartSeconds: 0.1, introEndSeconds: 12, segueSeconds: 231, audibleEndSeconds: 239 },
    ...more,
  },
});
const all = (...tracks: PlannedTrack[]): Map<number, PlannedTrack> => new Map(tracks.map((t) => [t.id, t]));
const list = (id: string, ...trackIds: number[]) => ({ id, name: id, place: [], trackIds });
const plan = (
  tracks: Map<number, PlannedTrack>,
  lists: ReturnType<typeof list>[],
  hours: PlayoutHour[] = [],
  taken: string[] = [],
): Plan => planPlayout(tracks, lists, hours, TURNSTONE, taken);
const paths = ({ files }: Plan): string[] => files.map((f) => f.path);
const textAt = ({ files }: Plan, path: string): string => {
  const made = files.find((f) => f.path === path)?.madeOf;
  return made?.is === 'list' ? made.text : '';
};

test('items by their IDs, each once, and the catalogue behind them', () => {
  const planned = plan(all(track(7), track(8)), [list('Night', 7, 8), list('Dub', 8)]);
  expect(paths(planned)).toEqual(['drop/000007.wav', 'drop/000008.wav', 'drop/catalogue.csv']);
  expect(planned.lists.map((l) => [l.listId, l.file, l.files.map((f) => f.trackId)])).toEqual([
    ['Night', 'drop/catalogue.csv', [7, 8]],
    ['Dub', 'drop/catalogue.csv', [8]],
  ]);
  expect(planned.files[0]).toMatchObject({ bytes: 240 * 48_000 * 4, madeOf: { recipe: { lufs: -23, format: 'wav' } } });
});

test('what the system would refuse is not written, and said once with each reason', () => {
  const planned = plan(all(track(1, { title: '', segueSeconds: null }), { ...track(2), broken: true }, track(3)), [
    list('A', 1, 2, 3, 4),
    list('B', 1),
  ]);
  expect(planned.refused).toEqual([
    { trackId: 1, reason: 'It has no title', mend: 'Clean' },
    { trackId: 1, reason: 'It has no segue point', mend: 'Sound' },
    { trackId: 2, reason: 'Its sound cannot be read', mend: 'Measure' },
    { trackId: 4, reason: 'Its file is not there', mend: 'Disk' },
  ]);
  expect(paths(planned)).toEqual(['drop/000003.wav', 'drop/catalogue.csv']);
});

test("somebody else's file keeps its name; without any item nothing is written at all", () => {
  const planned = plan(all(track(3)), [list('A', 3)], [], ['Drop/000003.WAV']);
  expect(planned.refused.map((r) => r.reason)).toEqual(["Somebody else's file has its name there (drop/000003.wav)"]);
  expect(paths(planned)).toEqual([]);
  expect(() => plan(all(track(3)), [list('A', 3)], [], ['drop/CATALOGUE.csv'])).toThrow(PlanError);
});

describe('hours', () => {
  const at = new Date(2026, 11, 1, 19).getTime() / 1000;
  test('are logs with the moment of each item and its offset; what is refused is not in them', () => {
    const items = [7, 9, 8].map((trackId, i) => ({ at: at + 60 * i, trackId }));
    const planned = plan(
      all(track(7), track(8), track(9, { artist: [] })),
      [list('h', 7, 9, 8)],
      [{ id: 'h', at, items }],
    );
    expect(planned.lists[0]!.file).toBe('logs/2026-12-01 1900.csv');
    const { rows } = readCsv(textAt(planned, 'logs/2026-12-01 1900.csv'), 'log', []);
    expect(rows.map((r) => [new Date(r.time!).getTime() / 1000, r.id])).toEqual([
      [at, '000007'],
      [at + 120, '000008'],
    ]);
  });
  test('that begin together, and one whose name is taken, have a number behind it', () => {
    const hour = (id: string): PlayoutHour => ({ id, at, items: [{ at, trackId: 7 }] });
    const planned = plan(
      all(track(7)),
      [list('a', 7), list('b', 7)],
      [hour('a'), hour('b')],
      ['logs/2026-12-01 1900.csv'],
    );
    expect(planned.lists.map((l) => l.file)).toEqual(['logs/2026-12-01 1900 2.csv', 'logs/2026-12-01 1900 3.csv']);
  });
});

test('whatever of its texts and marks changes, the item changes; its sound is another thing', () => {
  const of = (more: TrackValues) => plan(all(track(7, more)), [list('A', 7)]).files[0]!;
  const was = of({});
  const changes: TrackValues[] = [
    { title: 'Other' },
    { introEndSeconds: 14 },
    { playTo: '2026-12-24' },
    { genre: ['Dub'] },
  ];
  for (const more of changes) {
    expect(of(more).tags).not.toBe(was.tags);
    expect(of(more).sound).toBe(was.sound);
  }
  expect(of({ comment: 'not told there' }).tags).toBe(was.tags);
});

test('the catalogue names just the items that are there, whatever is asked for', () => {
  const some = fc.array(fc.integer({ min: 1, max: 12 }), { maxLength: 12 });
  fc.assert(
    fc.property(fc.array(some, { maxLength: 4 }), some, (lists, silent) => {
      const tracks = Array.from({ length: 10 }, (_, i) => track(i + 1, silent.includes(i + 1) ? { lufs: null } : {}));
      const planned = plan(
        all(...tracks),
        lists.map((ids, i) => list(String(i), ...ids)),
      );
      const items = paths(planned).filter((p) => p.endsWith('.wav'));
      const named = items.length
        ? readCsv(textAt(planned, 'drop/catalogue.csv'), 'catalogue', []).rows.map((r) => `drop/${r.path!}`)
        : [];
      expect(new Set(items).size).toBe(items.length);
      expect(named).toEqual(items);
      const wanted = new Set(lists.flat());
      const refused = new Set(planned.refused.map((r) => r.trackId));
      expect(items.length + refused.size).toBe(wanted.size);
    }),
  );
});
