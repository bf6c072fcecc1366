/** Two sides compared and made alike, again and again, with changes on both in between. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { PROGRAMS } from '../exchange/programs.ts';
import { marksOf } from '../fields/marks.ts';
import type { FieldValue } from '../fields/values.ts';
import { applyThere, finish, FOLDER, hereTrack, printed, trackValues, tracksById } from '../testing/collections.ts';
import {
  ALL,
  editHere,
  editThere,
  library,
  list,
  look,
  PLOVER,
  start,
  sync,
  there,
  value,
} from '../testing/syncing.ts';
import { compare, type Comparison } from './compare.ts';
import { sameHereAndThere } from './decide.ts';
import { READY_POLICIES, type Policies } from './policies.ts';
import { placedFields, storable } from './store.ts';

describe.each(Object.entries(PROGRAMS))('with %s', (_kind, format) => {
  test('a library given there stands there as far as it can, and a second look finds nothing', () => {
    fc.assert(
      fc.property(fc.array(trackValues, { minLength: 1, maxLength: 4 }), (all) => {
        const both = sync(format, start(library(all, [list('l', 'Early', all.map((_, i) => i + 1).reverse())])));
        const kept = there(format, both);
        expect(kept.problems).toEqual([]);
        expect(kept.lists.map((l) => [l.name, l.trackIds.length])).toEqual([['Early', all.length]]);
        for (const [i, track] of kept.tracks.entries()) {
          const stored = storable(both.here.tracks[i]!.values, format.describe).values;
          for (const field of placedFields(format.describe))
            expect([field, sameHereAndThere(field, track.values[field], stored[field])]).toEqual([field, true]);
        }
        expect(look(format, both).lines).toEqual([]);
      }),
      { numRuns: 60 },
    );
  });

  test('no change by hand is lost on either side, whatever is chosen; and then nothing is left to do', () => {
    const edits = fc.array(
      fc.record({ side: fc.constantFrom('here', 'there'), at: fc.nat(2), values: trackValues, field: fc.nat() }),
      { maxLength: 6 },
    );
    fc.assert(
      fc.property(
        fc.tuple(trackValues, trackValues, trackValues),
        edits,
        fc.infiniteStream(fc.nat()),
        (all, made, picks) => {
          let both = sync(format, start(library(all)));
          const fields = placedFields(format.describe);
          for (const { side, at, values, field: pick } of made) {
            const field = fields[pick % fields.length]!;
            const next = { [field]: values[field] ?? null };
            both =
              side === 'here'
                ? editHere(both, at, next)
                : editThere(format, both, at, { [field]: storable(next, format.describe).values[field] ?? null });
          }
          const before = look(format, both);
          const theirs = tracksById(there(format, both));
          const choices = Object.fromEntries(
            before.lines.map((l) => [l.id, l.options[picks.next().value % Math.max(1, l.options.length)] ?? 'leave']),
          );
          const after = sync(format, both, ALL, choices);
          const chosen = look(format, both, ALL, choices);
          for (const line of chosen.lines) {
            const at = line.trackId! - 1;
            const now = tracksById(there(format, after)).get(line.otherId!)!.values[line.field] ?? null;
            const was = theirs.get(line.otherId!)!.values[line.field] ?? null;
            // One of several cues: the others have lines of their own, or are joined.
            if (line.id.startsWith(`t:${line.trackId}:cues:`)) {
              const kept = (side: FieldValue): unknown =>
                expect.arrayContaining(marksOf(side).map((m) => expect.objectContaining(m)));
              if (line.will !== 'there') expect(marksOf(value(after, at, 'cues'))).toEqual(kept(line.here));
              if (line.will === null || line.will === 'there') expect(marksOf(now)).toEqual(kept(line.there));
              continue;
            }
            // What was not given up by a choice, or by the side that stays, is there still.
            if (line.will === null || line.will === 'here')
              expect(value(after, at, line.field)).toEqual(value(both, at, line.field));
            const stays = line.will === null || line.will === 'there';
            // Of cues there may be more than there were: further ones of this side, where there is room for them.
            if (stays && line.field === 'cues') expect(marksOf(now)).toEqual(expect.arrayContaining(marksOf(was)));
            else if (stays) expect(sameHereAndThere(line.field, now, was)).toBe(true);
          }
          const still = look(format, after, ALL, choices).lines.filter((l) => l.will !== null);
          expect(still).toEqual([]);
        },
      ),
      { numRuns: 100 },
    );
  });
});

describe.each(Object.entries(PROGRAMS))('with %s, what was the same', (_kind, format) => {
  test('is not asked about again, and nothing is missed by that', () => {
    const edit = fc.record({
      side: fc.constantFrom('here', 'there'),
      at: fc.nat(2),
      values: trackValues,
      field: fc.nat(),
    });
    fc.assert(
      fc.property(fc.tuple(trackValues, trackValues, trackValues), fc.array(edit, { maxLength: 3 }), (all, made) => {
        let both = sync(format, start(library(all)));
        const fields = placedFields(format.describe);
        const compared = (same?: Comparison['same']): { comparison: Comparison; asked: number } => {
          const here = printed(both.here),
            told = { values: 0 };
          const asked = { here, past: both.past, format, folder: FOLDER, maps: [], policies: ALL, choices: {} };
          const steps = compare({ ...asked, there: there(format, both), ...(same ? { same } : {}) });
          return { comparison: finish(steps, here, told), asked: told.values };
        };
        const { same } = compared().comparison;
        expect(compared(same).asked).toBe(0);
        for (const { side, at, values, field: pick } of made) {
          const field = fields[pick % fields.length]!;
          const next = { [field]: values[field] ?? null };
          const stored = { [field]: storable(next, format.describe).values[field] ?? null };
          both = side === 'here' ? editHere(both, at, next) : editThere(format, both, at, stored);
        }
        const [quick, slow] = [compared(same), compared()];
        // In whichever order they come, what is told of them is the same.
        const told = ({ past, losses, there: made, ...rest }: Comparison): object => ({
          ...rest,
          same: null,
          there: { ...made, newTracks: made.newTracks.map((t) => ({ ...t, values: t.values })) },
          past: {
            lists: past.lists,
            tracks: past.tracks
              .map(({ trackId, otherId, values }) => ({ trackId, otherId, values }))
              .sort((a, b) => a.trackId - b.trackId),
          },
          losses: losses.map((l) => ({ ...l, names: [...l.names].sort() })).sort((a, b) => (a.id < b.id ? -1 : 1)),
        });
        expect(told(quick.comparison)).toEqual(told(slow.comparison));
        expect(quick.asked).toBeLessThanOrEqual(new Set(made.map((m) => m.at)).size);
      }),
      { numRuns: 100 },
    );
  });
});

test('changed on one side goes over, changed on both asks, and both is joined', () => {
  let both = sync(
    PLOVER,
    start(library([{ title: 'Lamp Room', comment: 'opener', rating: 3 }, { title: 'Signal Box' }])),
  );
  both = editHere(both, 0, { title: 'Lamp Room, late', comment: 'opener, loud' });
  both = editThere(PLOVER, both, 0, { rating: 5, comment: 'crowd loved it' });
  const { lines } = look(PLOVER, both);
  expect(lines.map((l) => [l.field, l.group, l.will])).toEqual([
    ['title', 'out', 'here'],
    ['comment', 'clash', null],
    ['rating', 'in', 'there'],
  ]);
  const [, clash] = lines;
  expect(clash).toMatchObject({ here: 'opener, loud', there: 'crowd loved it', base: 'opener' });
  both = sync(PLOVER, both, ALL, { [clash!.id]: 'both' });
  expect(there(PLOVER, both).tracks[0]!.values).toMatchObject({ title: 'Lamp Room, late', rating: 5 });
  expect(value(both, 0, 'comment')).toBe('opener, loud; crowd loved it');
  expect(there(PLOVER, both).tracks[0]!.values.comment).toBe('opener, loud; crowd loved it');
  expect(look(PLOVER, both).lines).toEqual([]);
});

test('what was left undecided is asked about again', () => {
  let both = sync(PLOVER, start(library([{ title: 'Lamp Room' }])));
  both = editThere(PLOVER, editHere(both, 0, { title: 'A' }), 0, { title: 'B' });
  both = sync(PLOVER, both);
  expect(look(PLOVER, both).lines).toMatchObject([{ field: 'title', group: 'clash', base: 'Lamp Room' }]);
});

test('the first time: gaps are filled, what was typed here wins, measured values that differ are asked about', () => {
  const seen = start({
    tracks: [
      hereTrack(1, { title: 'Typed', artist: ['Keel Nine'] }),
      hereTrack(2, { title: 'Eel Grass', artist: ['Keel Nine'], bpm: 120 }, 'analysis'),
    ],
    lists: [],
    others: new Set(),
  });
  const theirs = (id: string, path: string, values: Record<string, FieldValue>) => ({ id, path, values, times: {} });
  const files = applyThere(PLOVER, new Map(), {
    there: {
      ...{ tracks: [], lists: [], newLists: [], removedLists: [] },
      newTracks: [
        theirs('p-1', '/srv/music/1.flac', { title: 'Other', album: 'Their album' }),
        theirs('p-2', '/srv/elsewhere/2.flac', {
          ...{ title: 'Eel Grass', artist: ['Keel Nine'], bpm: 121, durationSeconds: 202.3 },
        }),
      ],
    },
  });
  const { lines, counts } = look(PLOVER, { ...seen, files });
  expect(counts).toEqual({ here: 2, there: 2, tied: 2 });
  expect(lines.map((l) => [l.trackId, l.field, l.group, l.reason])).toEqual([
    [1, 'title', 'out', 'typed here'],
    [1, 'artist', 'out', null],
    [1, 'album', 'in', null],
    [2, 'bpm', 'clash', null],
    [2, 'file', 'out', 'the path follows, cues stay'],
  ]);
});

test('locked never changes; emptied stays where it was, unless removals are asked for', () => {
  let both = sync(PLOVER, start(library([{ title: 'Lamp Room', album: 'One', genre: ['House'] }])));
  both = editThere(PLOVER, both, 0, { title: 'Other', album: null });
  const [track] = both.here.tracks;
  const locked = {
    ...track!,
    held: (f: string) => (f === 'title' ? { ...track!.held(f)!, locked: true } : track!.held(f)),
  };
  both = editHere(both, 0, {});
  both = { ...both, here: { ...both.here, tracks: [{ ...locked, values: { ...locked.values, genre: null } }] } };
  const groups = (policies: Policies): unknown =>
    look(PLOVER, both, policies).lines.map((l) => [l.field, l.group, l.will, l.reason]);
  expect(groups(ALL)).toEqual([
    ['title', 'left', null, 'locked here'],
    ['album', 'left', null, 'emptied there'],
    ['genre', 'left', null, 'emptied here'],
  ]);
  expect(groups({ ...ALL, removals: true })).toEqual([
    ['title', 'left', null, 'locked here'],
    ['album', 'in', 'there', null],
    ['genre', 'out', 'here', null],
  ]);
  const asked = look(PLOVER, both, ALL, Object.fromEntries(look(PLOVER, both).lines.map((l) => [l.id, 'there'])));
  expect(asked.here.fields.flatMap((f) => Object.keys(f.values))).toEqual(['album', 'genre']);
});

test('cues: further ones stay here, changed ones come over; two that moved the same one are asked about', () => {
  const cues = Array.from({ length: 10 }, (_, i) => ({ at: i * 10 + 1, name: `c${i}`, colour: 'tide' }));
  let both = sync(PLOVER, start(library([{ title: 'Half a Mile of Rope', cues: JSON.stringify(cues) }])));
  expect(look(PLOVER, both).losses).toMatchObject([{ field: 'cues', reason: 'only 8 cues', tracks: 1 }]);
  const theirs = cues.slice(0, 8).map((c, i) => (i === 1 ? { ...c, at: 11.5 } : c));
  both = editThere(PLOVER, both, 0, { cues: JSON.stringify(theirs) });
  const after = sync(PLOVER, both);
  expect(value(after, 0, 'cues')).toBe(JSON.stringify([...theirs, ...cues.slice(8)]));
  expect(look(PLOVER, after).lines).toEqual([]);
  const mine = cues.map((c, i) => (i === 1 ? { ...c, at: 12 } : c));
  expect(look(PLOVER, editHere(both, 0, { cues: JSON.stringify(mine) })).lines).toMatchObject([
    { field: 'cues', group: 'clash', here: JSON.stringify([mine[1]]), there: JSON.stringify([theirs[1]]) },
  ]);
  const other = cues.map((c, i) => (i === 5 ? { ...c, name: 'break' } : c));
  const merged = sync(PLOVER, editHere(both, 0, { cues: JSON.stringify(other) }));
  expect(value(merged, 0, 'cues')).toBe(
    JSON.stringify([...theirs.map((c, i) => (i === 5 ? { ...c, name: 'break' } : c)), ...cues.slice(8)]),
  );
});

test('each cue that both have changed is asked about by itself; what does not clash is joined meanwhile', () => {
  const first = { at: 1, name: 'in' },
    second = { at: 30, name: 'drop' },
    third = { at: 60, name: 'out' };
  const cues = (...marks: object[]): { cues: string } => ({ cues: JSON.stringify(marks) });
  let both = sync(PLOVER, start(library([{ title: 'Half a Mile of Rope', ...cues(first, second, third) }])));
  both = editHere(both, 0, cues({ ...first, name: 'start' }, { ...second, at: 31 }, third, { at: 90 }));
  both = editThere(PLOVER, both, 0, cues({ ...first, name: 'go' }, { ...second, at: 32 }, third));
  const { lines } = look(PLOVER, both);
  expect(lines.map((l) => [l.id, l.group, l.will, l.options.join(' ')])).toEqual([
    ['t:1:cues', 'in', 'both', ''],
    ['t:1:cues:1000', 'clash', null, 'here there leave'],
    ['t:1:cues:30000', 'clash', null, 'here there both leave'],
  ]);
  const some = sync(PLOVER, both, ALL, { 't:1:cues:1000': 'there' });
  const sides = (now: typeof both): unknown[] => [value(now, 0, 'cues'), there(PLOVER, now).tracks[0]!.values.cues];
  const go = { ...first, name: 'go' };
  expect(sides(some)).toEqual([
    JSON.stringify([go, { ...second, at: 31 }, third, { at: 90 }]),
    JSON.stringify([go, { ...second, at: 32 }, third, { at: 90 }]),
  ]);
  expect(look(PLOVER, some).lines.map((l) => [l.id, l.group])).toEqual([['t:1:cues:30000', 'clash']]);
  const all = sync(PLOVER, some, ALL, { 't:1:cues:30000': 'both' });
  const kept = JSON.stringify([go, { ...second, at: 31 }, { ...second, at: 32 }, third, { at: 90 }]);
  expect(sides(all)).toEqual([kept, kept]);
  expect(look(PLOVER, all).lines).toEqual([]);
});

test('a cue whose name was taken away there has none here either; further cues keep theirs', () => {
  const named = [
    { at: 1, name: 'in' },
    { at: 2, name: 'out' },
  ];
  let both = sync(PLOVER, start(library([{ title: 'Half a Mile of Rope', cues: JSON.stringify(named) }])));
  both = sync(PLOVER, editThere(PLOVER, both, 0, { cues: JSON.stringify([{ at: 1 }, named[1]!]) }));
  expect(value(both, 0, 'cues')).toBe(JSON.stringify([{ at: 1 }, named[1]]));
  expect(look(PLOVER, both).lines).toEqual([]);
});

test('a late cue that was set there is not pushed out by earlier ones that had no room', () => {
  const ten = Array.from({ length: 10 }, (_, i) => ({ at: i * 10 + 1 }));
  let both = sync(PLOVER, start(library([{ title: 'Half a Mile of Rope', cues: JSON.stringify(ten) }])));
  const theirs = [...ten.slice(0, 7), { at: 200, name: 'last chorus' }];
  both = sync(PLOVER, editThere(PLOVER, both, 0, { cues: JSON.stringify(theirs) }));
  expect(there(PLOVER, both).tracks[0]!.values.cues).toBe(JSON.stringify(theirs));
  expect(value(both, 0, 'cues')).toBe(JSON.stringify([...ten.slice(0, 7), ...ten.slice(8), theirs[7]]));
  expect(look(PLOVER, both).lines).toEqual([]);
});

test('play counts of both are added up', () => {
  let both = sync(PLOVER, start(library([{ title: 'Post Office Steps', timesUsed: 2 }])));
  both = editHere(editThere(PLOVER, both, 0, { timesUsed: 5 }), 0, { timesUsed: 3 });
  both = sync(PLOVER, both);
  expect([value(both, 0, 'timesUsed'), there(PLOVER, both).tracks[0]!.values.timesUsed]).toEqual([6, 6]);
});

test('ready sets: one side leads, only gaps, made like here', () => {
  let both = sync(PLOVER, start(library([{ title: 'A', album: null, comment: 'x' }])));
  both = editThere(PLOVER, editHere(both, 0, { title: 'mine', label: 'L' }), 0, { title: 'theirs', comment: 'y' });
  const after = (name: string): unknown => {
    const done = sync(PLOVER, both, { ...READY_POLICIES[name]!, tracks: 'all' });
    const { title, comment, label } = there(PLOVER, done).tracks[0]!.values;
    return [value(done, 0, 'title'), value(done, 0, 'comment'), title, comment, label];
  };
  expect(after('This desk leads')).toEqual(['mine', 'y', 'mine', 'y', 'L']);
  expect(after('The other side leads')).toEqual(['theirs', 'y', 'theirs', 'y', 'L']);
  expect(after('Only fill gaps')).toEqual(['mine', 'x', 'theirs', 'y', 'L']);
  expect(after('Make it like here')).toEqual(['mine', 'x', 'mine', 'x', 'L']);
});
