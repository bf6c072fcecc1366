/** A library handed over to two programs, edited on all sides, compared, made alike, and taken back. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { copyFileSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ComparisonAnswer, DestinationLine } from '@early-set/core/api/handover';
import type { Applied, ListLine } from '@early-set/core/api/types';
import { DEFAULT_POLICIES } from '@early-set/core/sync/policies';
import type { Choices, Line } from '@early-set/core/sync/compareTracks';
import { readData as dunlinData } from '../../standins/dunlin/data.ts';
import { readData as ploverData, type Track } from '../../standins/plover/data.ts';
import { makeEdits as editPlover, type Edit } from '../../standins/plover/edits.ts';
import { makeEdits as editDunlin } from '../../standins/dunlin/edits.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { setCheckers } from './checker.ts';
import { namesIn } from './data.ts';

let h: Harness;
let plover: string, dunlin: string;
let ploverId: number, dunlinId: number;
const { set, undo } = hands(() => h);
const TITLES = ['Lamp Room', 'Signal Box', 'Eel Grass', 'Kelp Line', 'Dry Dock'];
const AT = '2026-11-28T21:00:00.000Z';
const ids: Record<string, number> = {};

const compared = async (id: number, choices: Choices = {}): Promise<ComparisonAnswer> =>
  (await h.post(`/destinations/${id}/compare`, { choices }).expect(200)).body as ComparisonAnswer;
const synced = async (id: number, choices: Choices = {}): Promise<Applied> => {
  const { token } = await compared(id, choices);
  return (await h.post(`/destinations/${id}/sync`, { token, choices }).expect(200)).body as Applied;
};
const change = (id: number, settings: object) => h.patch(`/destinations/${id}`, { settings }).expect(200);
const said = ({ lines }: ComparisonAnswer): unknown[] => lines.map((l) => [l.name, l.field, l.group]);
const lineOf = ({ lines }: ComparisonAnswer, name: string, field: string): Line =>
  lines.find((l) => l.name === name && l.field === field)!;
const inPlover = (): Track[] => ploverData(join(plover, 'collection')).tracks;
const trackIn = (title: string): Track => inPlover().find((t) => t.title === title)!;
const person = (...edits: Edit[]): void => editPlover(join(plover, 'collection'), edits, AT);
const valuesOf = async (title: string): Promise<Record<string, unknown>> =>
  ((await h.get(`/tracks/${ids[title]}`).expect(200)).body as { values: Record<string, unknown> }).values;
const lists = async (): Promise<ListLine[]> => (await h.get('/lists').expect(200)).body as ListLine[];
const everything = async (folder: string): Promise<Record<string, string>> =>
  Object.fromEntries((await namesIn(folder)).map((n) => [n, readFileSync(join(folder, n), 'latin1')]));

beforeAll(async () => {
  setCheckers(join(process.cwd(), 'dist/standins'));
  h = await startHarness();
  for (const [i, title] of TITLES.entries())
    makeAudio(join(h.music, `${title}.mp3`), {
      seconds: 1,
      hz: 300 + 50 * i,
      tags: { title, artist: 'Keel Nine', genre: 'House', TKEY: 'Am', comment: i === 0 ? 'opener' : '' },
    });
  await h.takeIn(h.music, false);
  for (const { id, title } of await h.query<{ id: number; title: string }>('SELECT id, title FROM tracks'))
    ids[title] = id;
  [plover, dunlin] = [join(h.folder, 'plover'), join(h.folder, 'dunlin')];
  mkdirSync(join(plover, 'collection/lists'), { recursive: true });
  writeFileSync(join(plover, 'collection/tracks.jsonl'), '');
  mkdirSync(join(dunlin, 'data/covers'), { recursive: true });
  writeFileSync(join(dunlin, 'data/covers/one.png'), 'a picture of its own');
  writeFileSync(join(dunlin, 'data/tracks.csv'), 'path,title,own column\n');
}, 120_000);
afterAll(async () => {
  setCheckers(null);
  await h?.stop();
});

test('programs are recognised by their data; what is none, or is there already, is refused', async () => {
  await h.post('/destinations', { folder: h.music }).expect(409);
  ploverId = ((await h.post('/destinations', { folder: plover }).expect(200)).body as { id: number }).id;
  dunlinId = ((await h.post('/destinations', { folder: dunlin }).expect(200)).body as { id: number }).id;
  await h.post('/destinations', { folder: plover }).expect(409);
  const all = (await h.get('/destinations').expect(200)).body as DestinationLine[];
  expect(all.map((d) => [d.name, d.what, d.syncedAt, d.trouble])).toEqual([
    ['Plover', 'performance program', null, null],
    ['Dunlin', 'performance program', null, null],
  ]);
});

test('a crate in a crate goes over, with tracks, keys, cues and grid; a second look finds nothing', async () => {
  const made = (await h.post('/lists', { kind: 'crate', name: 'Boathouse' }).expect(200)).body as { listId: string };
  const selection = { ids: [ids['Signal Box'], ids['Lamp Room']] };
  await h.post('/lists', { kind: 'crate', name: 'Openers', parentId: made.listId, selection }).expect(200);
  await set(['Lamp Room.mp3'], 'cues', '[{"at":1.5,"name":"in","colour":"tide"},{"at":2,"end":4}]');
  await set(['Lamp Room.mp3'], 'energy', 68);
  const first = await compared(ploverId);
  expect(first.counts).toMatchObject({ here: 5, there: 0, tied: 0, notHere: 0, lists: 1 });
  expect(first.made).toEqual({ lines: 3, out: 3, in: 0, undecided: 0 });
  await synced(ploverId);
  expect(ploverData(join(plover, 'collection')).refused).toEqual([]);
  expect(trackIn('Lamp Room')).toMatchObject({
    artist: 'Keel Nine',
    key: 'Am',
    comment: '68/100; opener',
    cues: [{ at: 1525, name: 'in', colour: 'blue' }],
    loops: [{ at: 2025, to: 4025 }],
  });
  expect(ploverData(join(plover, 'collection')).lists).toMatchObject([
    {
      file: 'Boathouse/Openers.xspf',
      title: 'Openers',
      locations: [trackIn('Signal Box').location, trackIn('Lamp Room').location],
    },
  ]);
  const again = await compared(ploverId);
  expect(again.lines).toEqual([]);
  await h.post(`/destinations/${ploverId}/sync`, { token: again.token, choices: {} }).expect(200);
  expect(((await h.get('/destinations')).body as DestinationLine[])[0]!.syncedAt).not.toBeNull();
});

test('edited on both sides: one goes each way, what both changed asks; chosen, made, taken back on both', async () => {
  const before = await everything(join(plover, 'collection'));
  person(
    { op: 'rate', id: 'Lamp Room', stars: 5 },
    { op: 'play', id: 'Lamp Room', times: 3, at: AT },
    { op: 'key', id: 'Lamp Room', key: 'Fm' },
    { op: 'comment', id: 'Lamp Room', text: '70/100; crowd loved it' },
    { op: 'cue', id: 'Lamp Room', index: 0, at: 1625 },
    { op: 'list', title: 'After ten', folder: 'Gigs', ids: ['Lamp Room'] },
  );
  const edited = await everything(join(plover, 'collection'));
  await set(['Lamp Room.mp3'], 'title', 'Lamp Room, late');
  await set(['Lamp Room.mp3'], 'key', 'Eb major');
  await set(['Lamp Room.mp3'], 'comment', 'opener, loud');
  const look = await compared(ploverId);
  const name = 'Lamp Room, late';
  expect(said(look)).toEqual([
    [name, 'comment', 'clash'],
    [name, 'key', 'clash'],
    [name, 'title', 'out'],
    [name, 'energy', 'in'],
    [name, 'rating', 'in'],
    [name, 'timesUsed', 'in'],
    [name, 'lastUsed', 'in'],
    [name, 'cues', 'in'],
    ['After ten', 'list', 'in'],
  ]);
  expect(lineOf(look, name, 'key')).toMatchObject({ here: 'Eb major', there: 'F minor', base: 'A minor' });
  const choices: Choices = {
    [lineOf(look, name, 'comment').id]: 'both',
    [lineOf(look, name, 'key').id]: 'here',
    [lineOf(look, name, 'rating').id]: 'leave',
  };
  const applied = await synced(ploverId, choices);
  expect(applied.conflicts).toEqual([]);
  expect(trackIn(name)).toMatchObject({
    key: 'Eb',
    comment: '70/100; opener, loud; crowd loved it',
    stars: 5,
    played: 3,
  });
  expect(await valuesOf('Lamp Room')).toMatchObject({
    ...{ key: 'Eb major', comment: 'opener, loud; crowd loved it', energy: 70, rating: null, timesUsed: 3 },
    cues: '[{"at":1.6,"name":"in","colour":"tide"},{"at":2,"end":4}]',
  });
  const made = (await lists()).filter((l) => !l.removed);
  const after = made.find((l) => l.name === 'After ten')!;
  expect(after).toMatchObject({ kind: 'playlist', tracks: 1 });
  expect(made.find((l) => l.id === after.parentId)!.name).toBe('Gigs');
  expect(said(await compared(ploverId))).toEqual([[name, 'rating', 'in']]);
  await undo(applied);
  expect(await everything(join(plover, 'collection'))).toEqual(edited);
  expect(edited).not.toEqual(before);
  expect(await valuesOf('Lamp Room')).toMatchObject({
    key: 'Eb major',
    comment: 'opener, loud',
    energy: 68,
    timesUsed: null,
  });
  // And what both said before is what both said: the same is asked again.
  expect(said(await compared(ploverId))).toEqual(said(look));
  await synced(ploverId, choices);
});

describe('in the way', () => {
  test('while it is open nothing is written', async () => {
    await set(['Dry Dock.mp3'], 'album', 'Slipway');
    await change(ploverId, { policies: { ...DEFAULT_POLICIES, tracks: 'all' } });
    writeFileSync(join(plover, 'plover.lock'), JSON.stringify({ by: 'Plover', pid: process.pid }));
    const look = await compared(ploverId);
    expect(look.checks.openedBy).toBe('Plover');
    const before = await everything(plover);
    const answer = await h.post(`/destinations/${ploverId}/sync`, { token: look.token, choices: {} }).expect(409);
    expect((answer.body as { error: { message: string } }).error.message).toMatch(/^Plover is open/);
    expect(await everything(plover)).toEqual(before);
    // A lock that a process has left which is gone is none.
    writeFileSync(join(plover, 'plover.lock'), JSON.stringify({ by: 'Plover', pid: 2 ** 30 }));
    expect((await compared(ploverId)).checks.openedBy).toBeNull();
    rmSync(join(plover, 'plover.lock'));
  });

  test('what has changed on either side since the look is looked at again', async () => {
    const { token } = await compared(ploverId);
    person({ op: 'rate', id: 'Signal Box', stars: 2 });
    const sync = (t: string) => h.post(`/destinations/${ploverId}/sync`, { token: t, choices: {} });
    expect(((await sync(token).expect(409)).body as { error: { code: string } }).error.code).toBe('changed-since');
    const next = (await compared(ploverId)).token;
    await set(['Kelp Line.mp3'], 'genre', 'Dub');
    expect(((await sync(next).expect(409)).body as { error: { code: string } }).error.code).toBe('changed-since');
    await synced(ploverId);
    expect(await valuesOf('Signal Box')).toMatchObject({ rating: 2 });
  });

  test('an undo does not write over what has been changed there since', async () => {
    await set(['Kelp Line.mp3'], 'genre', 'House');
    const applied = await synced(ploverId);
    person({ op: 'rate', id: 'Kelp Line', stars: 1 });
    const back = (await undo(applied)) as Applied;
    expect(back.conflicts.map((c) => c.reason)).toEqual(['Plover has been changed since: compare again']);
    expect(trackIn('Kelp Line').stars).toBe(1);
    await synced(ploverId);
  });
});

test('a file that moved here: its path follows there, cues stay', async () => {
  const cues = trackIn('Lamp Room, late').cues;
  mkdirSync(join(h.music, 'House'));
  await h
    .post('/disk/put', {
      selection: { ids: [ids['Lamp Room']] },
      mode: 'move',
      into: { rootId: 1, path: 'House' },
      taken: 'keep both',
    })
    .expect(200);
  expect(said(await compared(ploverId))).toEqual([['Lamp Room, late', 'file', 'out']]);
  await synced(ploverId);
  expect(trackIn('Lamp Room, late')).toMatchObject({ cues });
  expect(decodeURIComponent(trackIn('Lamp Room, late').location)).toBe(
    `file://${join(h.music, 'House/Lamp Room.mp3')}`,
  );
  expect(ploverData(join(plover, 'collection')).refused).toEqual([]);
});

test('from one program to the other: crates, keys in its spelling, what it cannot hold said once', async () => {
  await set(['House/Lamp Room.mp3'], 'comment', 'x'.repeat(300));
  const look = await compared(dunlinId);
  expect(look.losses.map((l) => [l.field, l.reason, l.tracks])).toEqual(
    expect.arrayContaining([
      ['cues', 'no place for loops', 1],
      ['comment', 'only its first 250 characters', 1],
      ['energy', 'no place for it', 1],
    ]),
  );
  await synced(dunlinId);
  const { tracks, crates, refused } = dunlinData(join(dunlin, 'data'));
  expect(refused).toEqual([]);
  expect(tracks.find((t) => t.title === 'Lamp Room, late')).toMatchObject({
    ...{ path: '../../music/House/Lamp Room.mp3', key: 'Eb major', 'cue 1': '1.600 in', 'own column': '' },
  });
  expect(crates.map((c) => [c.name, crates.find((p) => p.id === c.parent)?.name ?? null, c.tracks.length])).toEqual(
    expect.arrayContaining([
      ['Openers', 'Boathouse', 2],
      ['After ten', 'Gigs', 1],
    ]),
  );
  expect(readFileSync(join(dunlin, 'data/covers/one.png'), 'utf8')).toBe('a picture of its own');
  expect((await compared(dunlinId)).lines).toEqual([]);
  const kept = look.losses.map((l) => l.id);
  await change(dunlinId, { accepted: kept });
  expect((await compared(dunlinId)).losses.every((l) => l.accepted)).toBe(true);
  editDunlin(join(dunlin, 'data'), [{ op: 'comment', id: 'Lamp Room, late', text: 'short' }]);
  // What is longer here is not lost for it without asking.
  expect(said(await compared(dunlinId))).toEqual([['Lamp Room, late', 'comment', 'clash']]);
});

test('data that the program would refuse are never put in its place', async () => {
  const broken = join(h.folder, 'broken');
  mkdirSync(broken);
  copyFileSync(join(process.cwd(), 'dist/standins/plover.mjs'), join(broken, 'plover.mjs'));
  const script =
    "console.log(JSON.stringify({ tracks: 0, lists: 0, refused: process.argv[4].includes('.early-set-') ? ['no'] : [] }))";
  writeFileSync(join(broken, 'plover.mjs'), script);
  setCheckers(broken);
  try {
    await set(['Dry Dock.mp3'], 'album', 'Another');
    const before = await everything(plover);
    const applied = await synced(ploverId);
    expect(applied.conflicts.map((c) => c.reason)).toEqual(['Plover would refuse it: no']);
    expect(await everything(plover)).toEqual(before);
  } finally {
    setCheckers(join(process.cwd(), 'dist/standins'));
  }
  await synced(ploverId);
  expect((await compared(ploverId)).lines).toEqual([]);
});

test('data that are gone are told; a destination taken out leaves its data alone', async () => {
  renameSync(join(dunlin, 'data'), join(dunlin, 'elsewhere'));
  const all = (await h.get('/destinations')).body as DestinationLine[];
  expect(all[1]!.trouble).toMatch(/^Its data are not in/);
  await h.post(`/destinations/${dunlinId}/compare`, { choices: {} }).expect(409);
  renameSync(join(dunlin, 'elsewhere'), join(dunlin, 'data'));
  const before = await everything(dunlin);
  await h.delete(`/destinations/${dunlinId}`).expect(200);
  expect(await everything(dunlin)).toEqual(before);
  await h.post(`/destinations/${dunlinId}/compare`, { choices: {} }).expect(404);
});
