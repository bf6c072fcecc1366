/** Changes of tracks, their files and dates, against what is there. */
import { describe, expect, test } from '@jest/globals';
import type { Held } from '../fields/values.ts';
import { conflictOf, inverse, inverseOf, run, type ChangeItem } from './items.ts';
import { editDate } from './kinds/editDate.ts';
import { leftKey } from './kinds/kind.ts';
import { mergeTracks } from './kinds/mergeTracks.ts';
import { relocateFile, quarantined } from './kinds/relocateFile.ts';
import { relinkFile } from './kinds/relinkFile.ts';
import { removeTrack } from './kinds/removeTrack.ts';
import { setField } from './kinds/setField.ts';
import { writeTagsItem, writeTagsKind } from './kinds/writeTags.ts';
import { emptySnapshot, type DateInfo, type Snapshot } from './snapshot.ts';

const at = '2026-01-01T00:00:00Z';

/** A small library: two tracks with a file each, in two roots with equal folders. */
function library(): Snapshot {
  const snapshot = emptySnapshot();
  for (const id of [1, 2]) {
    snapshot.tracks.set(id, { values: {}, origins: {}, artHash: null });
    const ref = { rootId: id, path: 'In/a.mp3' };
    snapshot.files.set(`f${id}`, {
      id: `f${id}`,
      trackId: id,
      ref,
      role: 'main',
      state: 'here',
      size: 10,
      modifiedMs: 1,
    });
    snapshot.places.set(`${id}:In/a.mp3`, `f${id}`);
    snapshot.roots.set(id, {
      path: `/music/${id}`,
      label: `Shelf ${id}`,
      purpose: 'library',
      away: false,
      fileSystem: 'ext4',
      device: `d${id}`,
    });
  }
  return snapshot;
}
const file = { trackId: 1, fileId: 'f1' };
const here = { rootId: 1, path: 'In/a.mp3' };

describe('files put elsewhere', () => {
  const to = (path: string, rootId = 1) => relocateFile('move', file, here, { rootId, path });
  test('what stands in the way is told: another file, a drive that is away, a name that cannot be, a move behind its back', () => {
    expect(conflictOf(to('Out/b.mp3'), library())).toBeNull();
    expect(conflictOf(to('In/a.mp3', 2), library())).toBe('Another track has this place already');
    const away = library();
    away.roots.get(2)!.away = true;
    expect(conflictOf(to('x.mp3', 2), away)).toBe('The drive of Shelf 2 is not there');
    const fat = library();
    fat.roots.get(1)!.fileSystem = 'vfat';
    expect(conflictOf(to('In/a?.mp3'), fat)).toMatch('no name that this drive can hold');
    expect(conflictOf(to('In/a?.mp3'), library())).toBeNull();
    expect(conflictOf(to(`In/${'x'.repeat(300)}.mp3`), library())).toBe('The name is too long for this drive');
    expect(conflictOf({ ...to('x.mp3'), before: { rootId: 1, path: 'In/old.mp3' } }, library())).toBe(
      'The file has been moved or renamed since',
    );
    expect(conflictOf({ ...to('x.mp3'), fileId: 'f9' }, library())).toBe('The file is no longer known');
  });
  test('each is taken back: a move by a move, a copy by quarantine, quarantine by restoring', () => {
    const moved = to('Out/b.mp3', 2);
    expect(inverse(moved)).toEqual(relocateFile('move', file, moved.after, here));
    const copy = relocateFile('copy', { trackId: 1, fileId: 'c' }, null, { rootId: 2, path: 'c.mp3' }, here);
    const retired = inverse(copy);
    expect(retired).toMatchObject({ mode: 'retire', before: copy.after, after: quarantined(copy.after, 'c') });
    expect(inverse(retired)).toMatchObject({ mode: 'restore', before: retired.after, after: copy.after });
    expect(inverse(inverse(moved))).toEqual(moved);
  });
  test('a dry run goes through all of a draft: what one frees, the next may take', () => {
    const snapshot = library();
    const items = [
      to('In/b.mp3'),
      relocateFile('move', { trackId: 2, fileId: 'f2' }, { rootId: 2, path: 'In/a.mp3' }, here),
    ];
    expect(run(items, snapshot).map((l) => l.state)).toEqual(['waiting', 'waiting']);
    expect(snapshot.places.get('1:In/a.mp3')).toBe('f2');
    expect(run(items.reverse(), library()).map((l) => l.reason)).toEqual([
      'Another track has this place already',
      null,
    ]);
  });
  test('found again: nothing is moved, what another track has is left', () => {
    const lying = (path: string, rootId = 1) => ({
      ref: { rootId, path },
      state: 'here' as const,
      size: 1,
      modifiedMs: 1,
    });
    const item = relinkFile(1, 'f1', lying('In/a.mp3'), lying('Elsewhere/a.mp3'));
    const snapshot = library();
    expect(run([item], snapshot)[0]!.state).toBe('done');
    expect(snapshot.files.get('f1')!.ref.path).toBe('Elsewhere/a.mp3');
    expect(conflictOf(relinkFile(1, 'f1', lying('In/a.mp3'), lying('In/a.mp3', 2)), library())).toBe(
      'Another track has this file already',
    );
  });
});

describe('tracks out of the library, and two that become one', () => {
  test('both are taken back', () => {
    const snapshot = library();
    const items = [removeTrack(1, 'Ebb')];
    expect(run(items, snapshot)[0]!.state).toBe('done');
    expect(conflictOf(items[0]!, snapshot)).toBe('The track is no longer in the library');
    expect(run(inverseOf(items), snapshot)[0]!.state).toBe('done');
    expect(snapshot.tracks.has(1)).toBe(true);
    const merged = mergeTracks(1, 2, 'Ebb (copy)');
    expect(run([merged], snapshot)[0]!.state).toBe('done');
    expect([...snapshot.tracks.keys()]).toEqual([1]);
    expect(run([inverse(merged)], snapshot)[0]!.state).toBe('done');
    expect(conflictOf(mergeTracks(1, 1, 'x'), snapshot)).toBe('A track cannot be merged with itself');
  });
});

test('dates are made, changed and taken off like anything else', () => {
  const date: DateInfo = {
    name: 'Slipway',
    kind: 'gig',
    day: '2031-03-07',
    startsAt: '22:00',
    asks: 'floor',
    listIds: [],
  };
  const snapshot = emptySnapshot();
  const items = [editDate(1, null, date), editDate(1, date, { ...date, name: 'Slipway, late' })];
  expect(run(items, snapshot).map((l) => l.state)).toEqual(['done', 'done']);
  expect(conflictOf(items[1]!, snapshot)).toBe('The date has been changed since');
  run(inverseOf(items), snapshot);
  expect(snapshot.dates.size).toBe(0);
});

test('a field that the library did not take is not written into the file; the others are', () => {
  const item = writeTagsItem(1, { title: { before: ['a'], after: ['b'] }, year: { before: [], after: ['2019'] } });
  const left = new Map([[leftKey(1, 'title'), 'The field is locked']]);
  expect(writeTagsKind.without!(item, left)).toMatchObject({ fields: { year: { after: ['2019'] } } });
  expect(writeTagsKind.without!(writeTagsItem(1, { title: { before: null, after: [] } }), left)).toBe(
    'The field is locked',
  );
  const held = (value: string): Held => ({ value, origin: 'typed', at, locked: true });
  const snapshot = library();
  snapshot.tracks.set(1, { values: { title: 'a' }, origins: { title: held('a') }, artHash: null });
  const lines = run<ChangeItem>([setField(1, 'title', held('a'), held('b')), item], snapshot);
  expect(lines.map((l) => [l.state, l.reason, l.of])).toEqual([
    ['conflict', 'The field is locked', 0],
    ['waiting', null, 1],
  ]);
});
