/** What every adapter keeps: the one suite that each passes. */
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { ALL_KEYS } from '../fields/keys.ts';
import { sameHereAndThere } from '../sync/decide.ts';
import { placedFields, storable } from '../sync/store.ts';
import { AT, FOLDER, trackValues } from '../testing/collections.ts';
import { NO_CHANGES, type Collection, type DataFiles, type OtherChanges } from './collection.ts';
import { PROGRAMS } from './programs.ts';

describe.each(Object.entries(PROGRAMS))('%s', (_kind, format) => {
  const about = format.describe;
  const write = (files: DataFiles, changes: Partial<OtherChanges>): Map<string, string> => {
    const next = new Map(files);
    for (const [name, text] of format.write(files, { ...NO_CHANGES, ...changes }, FOLDER, AT))
      if (text === null) next.delete(name);
      else next.set(name, text);
    return next;
  };
  const read = (files: DataFiles): Collection => format.read(files, FOLDER);
  const newTracks = (all: Record<string, unknown>[]): OtherChanges['newTracks'] => {
    const taken = new Set<string>();
    return all.map((values, i) => {
      const path = `/srv/music/no ${i} é.mp3`;
      const id = format.newTrackId(path, taken, FOLDER);
      taken.add(id);
      return { id, path, times: {}, values: storable(values as never, about).values };
    });
  };

  test('keys are written by a table of the user, and read by it', () => {
    const table = Object.fromEntries(ALL_KEYS.map((key, i) => [key, `no. ${i + 1}`]));
    const tracks = newTracks(ALL_KEYS.map((key) => ({ key })));
    const files = new Map<string, string>();
    for (const [name, text] of format.write(new Map(), { ...NO_CHANGES, newTracks: tracks }, FOLDER, AT, table))
      files.set(name, text!);
    expect([...files.values()].join('')).toContain('no. 24');
    expect(format.read(files, FOLDER, table).tracks.map((t) => t.values.key)).toEqual([...ALL_KEYS]);
    expect(read(files).tracks[0]!.values.key).toBeNull();
  });

  test('read after write is what was written, minus what it has no place for', () => {
    fc.assert(
      fc.property(fc.array(trackValues, { maxLength: 5 }), (all) => {
        const tracks = newTracks(all);
        const back = read(write(new Map(), { newTracks: tracks }));
        expect(back.problems).toEqual([]);
        expect(back.tracks.map((t) => [t.id, t.path])).toEqual(tracks.map((t) => [t.id, t.path]));
        for (const [i, track] of back.tracks.entries())
          for (const field of placedFields(about))
            if (!sameHereAndThere(field, track.values[field], tracks[i]!.values[field]))
              expect([field, track.values[field]]).toEqual([field, tracks[i]!.values[field]]);
      }),
      { numRuns: 150 },
    );
  });

  test('what can be stored can be stored again as it is', () => {
    fc.assert(
      fc.property(trackValues, (values) => {
        const once = storable(values, about).values;
        const twice = storable(once, about);
        expect(twice.losses).toEqual([]);
        expect(twice.values).toEqual(once);
      }),
    );
  });

  test('an edit of one value leaves all else as it was written', () => {
    fc.assert(
      fc.property(fc.array(trackValues, { minLength: 2, maxLength: 4 }), (all) => {
        const files = write(new Map(), { newTracks: newTracks(all) });
        const [first, ...others] = read(files).tracks;
        const after = read(write(files, { tracks: [{ id: first!.id, values: { title: 'Another' } }] }));
        expect(after.tracks[0]!.values).toEqual({ ...first!.values, title: 'Another' });
        expect(after.tracks.slice(1)).toEqual(others);
      }),
      { numRuns: 50 },
    );
  });

  test('lists are made, named anew, moved, filled and removed; a file that moves keeps its places', () => {
    const tracks = newTracks([{ title: 'a' }, { title: 'b' }, { title: 'c' }]);
    const ids = tracks.map((t) => t.id);
    let files: DataFiles = write(new Map(), { newTracks: tracks });
    const first = format.newListId(new Set());
    const second = format.newListId(new Set([first]));
    files = write(files, {
      newLists: [
        { id: first, name: 'Early', place: ['Gigs', '2026'], trackIds: [ids[2]!, ids[0]!] },
        { id: second, name: 'Late', place: [], trackIds: [ids[1]!] },
      ],
    });
    const lists = (): Collection['lists'] => [...read(files).lists].sort((a, b) => (a.name < b.name ? -1 : 1));
    expect(lists()).toMatchObject([
      { id: first, name: 'Early', place: ['Gigs', '2026'], trackIds: [ids[2], ids[0]] },
      { id: second, name: 'Late', place: [], trackIds: [ids[1]] },
    ]);
    files = write(files, { lists: [{ id: first, name: 'Earlier', place: ['Gigs', '2027'], trackIds: ids }] });
    expect(lists()[0]).toMatchObject({ id: first, name: 'Earlier', place: ['Gigs', '2027'], trackIds: ids });
    expect(lists()).toHaveLength(2);
    files = write(files, { tracks: [{ id: ids[0]!, path: '/srv/music/moved/a.mp3', values: {} }] });
    const moved = format.movedId?.('/srv/music/moved/a.mp3', FOLDER) ?? ids[0]!;
    expect(read(files).tracks[0]).toMatchObject({ id: moved, path: '/srv/music/moved/a.mp3' });
    expect(lists()[0]!.trackIds).toEqual([moved, ids[1], ids[2]]);
    files = write(files, { removedLists: [first] });
    expect(lists().map((l) => l.name)).toEqual(['Late']);
    expect(read(files).problems).toEqual([]);
  });

  test('data that are broken in places are read as far as they go, and say where', () => {
    const whole = write(new Map(), { newTracks: newTracks([{ title: 'a' }, { title: 'b' }]) });
    const [name] = [...whole.keys()];
    const broken = new Map(whole).set(name!, `${whole.get(name!)!}{"id": "half\n"no, "sense"\n`);
    const { tracks, problems } = read(broken);
    expect(tracks.slice(0, 2).map((t) => t.values.title)).toEqual(['a', 'b']);
    expect(problems.length + tracks.length).toBeGreaterThan(2);
    expect(read(new Map())).toEqual({ tracks: [], lists: [], problems: [] });
  });
});
