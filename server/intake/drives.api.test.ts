/**
 * Drives that go away and come back elsewhere; two roots with equal folders through every screen that groups by
 * folder.
 */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type {
  Completeness,
  Facets,
  FolderLine,
  ListContents,
  RootLine,
  SheetPage,
  TrackDetails,
} from '@early-set/core/api/types';
import { runSteps } from '@early-set/core/clean/runSteps';
import { newStep } from '@early-set/core/clean/steps';
import { knownNames } from '@early-set/core/clean/known';
import { clusterTracks } from '@early-set/core/catalogue/clusters';
import type { CleanTracks } from '@early-set/core/api/types';
import { groupTracks, lookedUp } from '../catalogue/lookups.ts';
import { connect } from '../db/database.ts';
import { hands } from '../testing/hands.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { driveOf } from '../drives/drives.ts';

let h: Harness;
let first: number, second: number;
let other: string;
const { scanned } = hands(() => h);

beforeAll(async () => {
  h = await startHarness();
  other = join(h.folder, 'other');
  mkdirSync(other);
  for (const [folder, who] of [
    [h.music, 'Odette Kassar'],
    [other, 'Keel Nine'],
  ] as const)
    for (let i = 1; i <= 4; i++)
      makeAudio(join(folder, `Slack Water EP/0${i} - ${who} - Song ${i}.mp3`), {
        seconds: 1,
        hz: 300 + i * 40,
        tags: { album: 'Slack Water EP', artist: who, track: String(i) },
      });
  first = await h.takeIn(h.music, false);
  second = await h.takeIn(other, false);
});
afterAll(() => h?.stop());

const roots = async (): Promise<RootLine[]> => (await h.get('/roots').expect(200)).body as RootLine[];
const rootLine = async (id: number): Promise<RootLine> => (await roots()).find((r) => r.id === id)!;
const states = async (root: number): Promise<Record<string, number>> =>
  Object.fromEntries(
    (
      await h.query<{ s: string; n: number }>(
        'SELECT file_state AS s, count(*)::int AS n FROM tracks WHERE root_id = $1 GROUP BY 1',
        [root],
      )
    ).map((r) => [r.s, r.n]),
  );
const sheet = async (where: object): Promise<SheetPage> =>
  (await h.get(`/tracks?limit=500&where=${encodeURIComponent(JSON.stringify(where))}`).expect(200)).body as SheetPage;
const everything = { where: { all: [] }, except: [] };

describe('equal folders of two roots are never mixed', () => {
  const inFirst = () => ({ inFolder: { rootId: first, path: 'Slack Water EP' }, below: true });
  test('in the sheet, its filters and its columns', async () => {
    const { rows } = await sheet(inFirst());
    expect(rows.map((r) => [r.rootId, r.values.root, r.values.folder])).toEqual(
      Array(4).fill([first, 'music', 'Slack Water EP']),
    );
    const { folders } = (await h.get('/facets').expect(200)).body as Facets;
    expect(folders.map((f) => [f.rootId, f.root, f.path, f.count]).sort()).toEqual([
      [first, 'music', 'Slack Water EP', 4],
      [second, 'other', 'Slack Water EP', 4],
    ]);
    expect((await sheet({ inFolder: { rootId: second, path: '' }, below: true })).total).toBe(4);
    expect((await sheet({ inFolder: { rootId: second, path: '' }, below: false })).total).toBe(0);
    await h
      .get(`/tracks?where=${encodeURIComponent(JSON.stringify({ inFolder: { path: 'x' }, below: true }))}`)
      .expect(400);
  });
  test('in cleaning: scopes, groups of file names, totals, names that clash', async () => {
    const lines = (await h.get('/clean/folders')).body as FolderLine[];
    expect(lines.filter((l) => l.ref.path === 'Slack Water EP').map((l) => [l.ref.rootId, l.tracks])).toEqual([
      [first, 4],
      [second, 4],
    ]);
    const { tracks } = (await h.post('/clean/tracks', { selection: everything }).expect(200)).body as CleanTracks;
    const steps = [
      newStep('names', 'a', { over: 'replace' }),
      newStep('numbers', 'b', { action: 'totals' }),
      newStep('compose', 'c', { into: 'fileName', template: '{{ trackNumber }}' }),
    ];
    const done = runSteps(tracks, steps, { known: knownNames([]), answers: {} });
    const after = (id: number, field: string): unknown =>
      done.changes.find((c) => c.id === id)?.fields.find((f) => f.field === field)?.after;
    for (const t of tracks) {
      expect(after(t.id, 'trackTotal')).toBe(4); // eight, if they were one album
      expect(after(t.id, 'fileName')).toMatch(/^[1-4]$/);
    }
    expect(done.questions).toEqual([]);
  });
  test('in look-ups and completeness', async () => {
    const database = await connect(h.databaseUrl);
    const all = await groupTracks(
      database,
      (await sheet({ all: [] })).rows.map((r) => r.id),
    );
    await database.close();
    const clusters = clusterTracks(all.map(lookedUp));
    expect(clusters.map((c) => c.trackIds.length)).toEqual([4, 4]);
    const { groups } = (await h.post('/completeness', { selection: everything, by: 'folder' }).expect(200))
      .body as Completeness;
    expect(groups.map((g) => [g.name, g.tracks]).sort()).toEqual([
      ['music / Slack Water EP', 4],
      ['other / Slack Water EP', 4],
    ]);
    for (const g of groups) expect((await sheet(g.condition!)).total).toBe(4);
  });
});

describe('a drive that is not there', () => {
  test('marks nothing as missing, whether its folder is gone, empty, or lost most of its files', async () => {
    const { listId } = (
      await h
        .post('/lists', {
          kind: 'playlist',
          name: 'Kept',
          selection: { where: { inFolder: { rootId: second, path: '' }, below: true }, except: [] },
        })
        .expect(200)
    ).body as { listId: string };
    const away = `${other}-away`;
    renameSync(other, away);
    const run = await scanned(second);
    expect([run.state, run.reason]).toEqual([
      'failed',
      expect.stringMatching(/is not there.*nothing was marked as missing/),
    ]);
    expect(await states(second)).toEqual({ away: 4 });
    expect((await rootLine(second)).awaySince).not.toBeNull();
    expect((await rootLine(second)).missing).toBe(0);
    // An empty mount point.
    mkdirSync(other);
    expect((await scanned(second)).reason).toBe(
      'More than half of the files of other are not there; nothing was marked as missing',
    );
    expect(await states(second)).toEqual({ away: 4 });
    const { entries } = (await h.get(`/lists/${listId}`)).body as ListContents;
    expect(entries.map((e) => e.values.fileState)).toEqual(Array(4).fill('away'));
    await h.get(`/tracks/${entries[0]!.id}/audio`).expect(404);
    // Edits go on in the library; what cannot be written is told and can be written later.
    const edited = (
      await h.post('/fields', { selection: { ids: [entries[0]!.id] }, field: 'title', value: 'While away' }).expect(200)
    ).body as { conflicts: { reason: string }[] };
    expect(edited.conflicts.map((c) => c.reason)).toEqual(['The drive is not there']);
    await h.post('/undo').expect(200);
    // Back at another path: one step, and everything follows.
    rmSync(other, { recursive: true });
    const elsewhere = join(h.folder, 'mounted elsewhere');
    renameSync(away, elsewhere);
    expect((await h.post(`/roots/${second}/path`, { path: h.music }).expect(409)).body).toMatchObject({
      error: { code: 'root-exists' },
    });
    const empty = join(h.folder, 'empty');
    mkdirSync(empty);
    expect((await h.post(`/roots/${second}/path`, { path: empty }).expect(409)).body).toMatchObject({
      error: { message: `Only 0 of 4 files of other are in ${empty}` },
    });
    await h.post(`/roots/${second}/path`, { path: elsewhere }).expect(200);
    expect(await states(second)).toEqual({ here: 4 });
    expect(await rootLine(second)).toMatchObject({ path: elsewhere, awaySince: null, missing: 0, tracks: 4 });
    expect((await h.get(`/tracks/${entries[0]!.id}`)).body as TrackDetails).toMatchObject({ rootPath: elsewhere });
    await h.get(`/tracks/${entries[0]!.id}/audio`).set('Range', 'bytes=0-9').expect(206);
    const after = (await h.get(`/lists/${listId}`)).body as ListContents;
    expect(after.entries.map((e) => e.entryId)).toEqual(entries.map((e) => e.entryId));
    other = elsewhere;
  });

  test('files that are really gone are marked as missing when somebody says so; what comes back is found again', async () => {
    const [kept, ...gone] = readdirSync(join(other, 'Slack Water EP'));
    const aside = join(h.folder, 'aside');
    mkdirSync(aside);
    for (const name of gone) renameSync(join(other, 'Slack Water EP', name), join(aside, name));
    expect((await scanned(second)).state).toBe('failed');
    expect(await states(second)).toEqual({ away: 4 });
    const accepted = await scanned(second, { lossAccepted: true });
    expect(accepted).toMatchObject({ state: 'done', report: { missing: 3, taken: 0 } });
    expect(await states(second)).toEqual({ here: 1, missing: 3 });
    expect((await rootLine(second)).awaySince).toBeNull();
    for (const name of gone) renameSync(join(aside, name), join(other, 'Slack Water EP', name));
    expect((await scanned(second)).report).toMatchObject({ returned: 3 });
    expect(existsSync(join(other, 'Slack Water EP', kept!))).toBe(true);
  });

  test('a root knows its drive', async () => {
    const { drive } = await rootLine(first);
    expect(drive).toEqual(await driveOf(h.music));
    expect(drive!.bytes).toBeGreaterThan(0);
    expect(await driveOf(join(h.folder, 'nowhere'))).toBeNull();
  });
});

test('a destination is written and never read into tracks', async () => {
  const folder = join(h.folder, 'sticks');
  mkdirSync(folder);
  makeAudio(join(folder, 'stray.mp3'), { seconds: 1 });
  const { rootId, runId } = (await h.post('/roots', { path: folder, purpose: 'destination' }).expect(200)).body as {
    rootId: number;
    runId: number | null;
  };
  expect(runId).toBeNull();
  expect((await h.post(`/roots/${rootId}/scan`).expect(409)).body).toMatchObject({ error: { code: 'destination' } });
  expect(await states(rootId)).toEqual({});
  // What is given is written down: which file, to where.
  const [track] = (await sheet({ inFolder: { rootId: first, path: '' }, below: true })).rows;
  const { listId } = (await h.post('/lists', { kind: 'playlist', name: 'Given', selection: { ids: [track!.id] } }))
    .body as { listId: string };
  const wish = { format: 'm3u8', paths: 'absolute', line: '{{ title }}', rootId };
  const { path } = (await h.post(`/lists/${listId}/write`, wish).expect(200)).body as { path: string };
  expect(readdirSync(folder).sort()).toEqual(['Given.m3u8', 'stray.mp3']);
  await h.post(`/lists/${listId}/export`, { ...wish, rootId: null }).expect(200);
  expect(await h.query('SELECT given_to, track_id, path FROM file_ledger ORDER BY id')).toEqual([
    { given_to: path, track_id: track!.id, path: track!.values.path },
    { given_to: 'download of Given.m3u8', track_id: track!.id, path: track!.values.path },
  ]);
});
