/** Files that get other names, with their tracks: made, refused, killed midway, taken back. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import {
  chmodSync,
  copyFileSync,
  existsSync,
  linkSync,
  mkdirSync,
  readFileSync,
  renameSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Applied, ChangeSetDetails, RunProgress } from '@early-set/core/api/types';
import { relocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { bundle } from '../../scripts/lib/build.mjs';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import type { WorkStep } from './context.ts';

let h: Harness;
const NAMES = ['a', 'b', 'c', 'd', 'e', 'f', 'g'];

beforeAll(async () => {
  await bundle({ writeAndDie: 'server/testing/writeAndDie.ts' }, join(process.cwd(), 'dist/test'));
  h = await startHarness();
  mkdirSync(join(h.music, 'in'));
  NAMES.forEach((name, i) =>
    makeAudio(join(h.music, `in/${name}.mp3`), {
      seconds: 1,
      hz: 300 + i * 30,
      tags: { title: `Track ${name}`, artist: 'Brine Choir' },
    }),
  );
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

const at = (path: string): string => join(h.music, path);
const pathOf = async (id: number): Promise<string> =>
  (await h.query<{ path: string }>('SELECT path FROM tracks WHERE id = $1', [id]))[0]!.path;
const idOf = async (path: string): Promise<number> =>
  (await h.query<{ id: number }>('SELECT id FROM tracks WHERE path = $1', [path]))[0]!.id;
/** A draft as the steps make it: [from, to], both without ending. */
async function rename(pairs: [string, string][], seen: Record<string, string> = {}): Promise<Applied> {
  const edits = await Promise.all(
    pairs.map(async ([from, to]) => ({
      trackId: await idOf(`in/${from}.mp3`),
      fields: { fileName: { before: seen[from] ?? from, after: to } },
    })),
  );
  return (await h.post('/drafts/fields', { title: 'Other names', edits }).expect(200)).body as Applied;
}
const undo = async ({ changeSetId }: Applied): Promise<Applied> =>
  (await h.post(`/changes/${changeSetId}/undo`, {}).expect(200)).body as Applied;
const details = async (id: number): Promise<ChangeSetDetails> =>
  (await h.get(`/changes/${id}`).expect(200)).body as ChangeSetDetails;
async function scanned(): Promise<void> {
  const [root] = await h.query<{ id: number }>('SELECT id FROM roots');
  const { runId } = (await h.post(`/roots/${root!.id}/scan`).expect(200)).body as { runId: number };
  await h.until(
    async () => ((await h.get('/runs')).body as RunProgress[]).find((r) => r.id === runId)!.finishedAt !== null,
    'the folder has been read again',
  );
}

test('the file and its track go together, lists and search follow, and it is taken back', async () => {
  const id = await idOf('in/a.mp3'),
    bytes = readFileSync(at('in/a.mp3'));
  const applied = await rename([['a', 'Brine Choir - Ω / Tide']]);
  expect(applied.files).toMatchObject({ written: 1 });
  expect(await pathOf(id)).toBe('in/Brine Choir - Ω Tide.mp3');
  expect(readFileSync(at('in/Brine Choir - Ω Tide.mp3')).equals(bytes)).toBe(true);
  expect(existsSync(at('in/a.mp3'))).toBe(false);
  expect(await h.query('SELECT file_name FROM tracks WHERE id = $1 AND search_text LIKE $2', [id, '%tide%'])).toEqual([
    { file_name: 'Brine Choir - Ω Tide' },
  ]);
  await scanned();
  expect(
    await h.query("SELECT count(*)::int AS n, count(*) FILTER (WHERE file_state = 'missing')::int AS gone FROM tracks"),
  ).toEqual([{ n: NAMES.length, gone: 0 }]);
  const [line] = (await h.get('/changes?area=files').expect(200)).body as { id: number; files: number }[];
  expect(line).toMatchObject({ id: applied.changeSetId, files: 1 });
  await undo(applied);
  expect([await pathOf(id), readFileSync(at('in/a.mp3')).equals(bytes)]).toEqual(['in/a.mp3', true]);
});

test('names and tags in one draft; two files change names through a third', async () => {
  const [b, c] = [await idOf('in/b.mp3'), await idOf('in/c.mp3')];
  const bytes = [readFileSync(at('in/b.mp3')), readFileSync(at('in/c.mp3'))];
  const edits = [
    { trackId: b, fields: { title: { before: 'Track b', after: 'Ebb' }, fileName: { before: 'b', after: 'c' } } },
    { trackId: c, fields: { fileName: { before: 'c', after: 'Ebb 2' } } },
  ];
  const applied = (await h.post('/drafts/fields', { title: 'Both', edits }).expect(200)).body as Applied;
  expect(applied.conflicts).toEqual([]);
  expect([await pathOf(b), await pathOf(c)]).toEqual(['in/c.mp3', 'in/Ebb 2.mp3']);
  expect(readFileSync(at('in/c.mp3')).includes('Ebb')).toBe(true);
  await undo(applied);
  expect([readFileSync(at('in/b.mp3')).equals(bytes[0]!), readFileSync(at('in/c.mp3')).equals(bytes[1]!)]).toEqual([
    true,
    true,
  ]);
});

describe('in the way', () => {
  const reasons = (applied: Applied): string[] => applied.conflicts.map((c) => c.reason);
  test('another track, or any other file, keeps its place', async () => {
    writeFileSync(at('in/notes.mp3'), 'not a track');
    const applied = await rename([
      ['a', 'b'],
      ['c', 'notes'],
      ['d', 'free'],
    ]);
    expect(reasons(applied)).toEqual(['Another track has this place already', 'There is a file of that name already']);
    expect([existsSync(at('in/free.mp3')), readFileSync(at('in/notes.mp3'), 'utf8')]).toEqual([true, 'not a track']);
    expect(await pathOf(await idOf('in/c.mp3'))).toBe('in/c.mp3');
    await undo(applied);
    expect(existsSync(at('in/d.mp3'))).toBe(true);
  });
  test('what was renamed or went away since is told; nothing is moved', async () => {
    const edits = [
      { trackId: await idOf('in/a.mp3'), fields: { fileName: { before: 'as it was called', after: 'x' } } },
    ];
    expect((await h.post('/drafts/fields', { title: 'Other names', edits }).expect(409)).body).toMatchObject({
      error: { message: 'Nothing was changed: the file has been moved or renamed since' },
    });
    renameSync(at('in/e.mp3'), at('in/elsewhere.mp3'));
    expect(reasons(await rename([['e', 'x']]))).toEqual(['There is no such file']);
    expect(await pathOf(await idOf('in/e.mp3'))).toBe('in/e.mp3');
    renameSync(at('in/elsewhere.mp3'), at('in/e.mp3'));
  });
  test('a name for several, or none', async () => {
    const ids = [await idOf('in/a.mp3'), await idOf('in/b.mp3')];
    expect(
      (await h.post('/fields', { selection: { ids }, field: 'fileName', value: 'x' }).expect(400)).body,
    ).toMatchObject({ error: { message: 'One name is for one file; the steps under Clean give many their names' } });
    expect(
      (await h.post('/fields', { selection: { ids: [ids[0]] }, field: 'fileName', value: ' .. ' }).expect(400)).body,
    ).toMatchObject({ error: { message: 'A file needs a name' } });
  });
  test('a folder that may not be written to', async () => {
    if (process.getuid?.() === 0) {
      // Root may write anywhere; what the page of one track does is tried instead.
      const one = (
        await h
          .post('/fields', { selection: { ids: [await idOf('in/a.mp3')] }, field: 'fileName', value: 'by hand' })
          .expect(200)
      ).body as Applied;
      expect(existsSync(at('in/by hand.mp3'))).toBe(true);
      await undo(one);
      return;
    }
    chmodSync(at('in'), 0o555);
    expect(reasons(await rename([['a', 'x']]))).toEqual(['The file may not be read or written']);
    chmodSync(at('in'), 0o755);
  });
});

describe('killed', () => {
  const waiting = async (name: string, to: string): Promise<number> => {
    const [set] = await h.query<{ id: number }>(
      "INSERT INTO change_sets (title, done, conflicts) VALUES ('Killed', 0, 0) RETURNING id",
    );
    const trackId = await idOf(`in/${name}.mp3`);
    const [file] = await h.query<{ id: string; root_id: number }>(
      'SELECT id, root_id FROM track_files WHERE track_id = $1',
      [trackId],
    );
    const at = (path: string) => ({ rootId: file!.root_id, path });
    const item = relocateFile('move', { trackId, fileId: file!.id }, at(`in/${name}.mp3`), at(`in/${to}.mp3`));
    await h.query(
      `INSERT INTO change_items (change_set_id, seq, item, state, area, track_id)
        VALUES ($1, 0, $2, 'waiting', 'files', $3)`,
      [set!.id, JSON.stringify(item), trackId],
    );
    return set!.id;
  };
  const finish = async (id: number, to: string): Promise<void> => {
    await h.restart();
    await h.until(async () => (await details(id)).waiting === 0, 'all is moved');
    expect((await details(id)).lines.map((l) => [l.state, l.reason])).toEqual([['done', null]]);
    expect(existsSync(at(`in/${to}.mp3`))).toBe(true);
    expect(await idOf(`in/${to}.mp3`)).toBeGreaterThan(0);
  };
  test.each<[WorkStep, string]>([
    ['claimed', 'f'],
    ['prepared', 'at claimed'],
    ['journalled', 'at prepared'],
    ['named', 'at journalled'],
    ['written', 'at named'],
    ['settled', 'at written'],
  ])('at the step "%s": the next start finishes it', async (step, name) => {
    const to = `at ${step}`,
      bytes = readFileSync(at(`in/${name}.mp3`));
    const id = await waiting(name, to),
      killed = await idOf(`in/${name}.mp3`);
    const killer = join(process.cwd(), 'dist/test/writeAndDie.mjs'),
      thread = pathToFileURL(join(process.cwd(), 'dist/server/fileThread.mjs')).href;
    const died = spawnSync(
      process.execPath,
      [
        killer,
        h.databaseUrl,
        join(h.folder, 'data/art'),
        thread,
        String(id),
        step,
        String(await idOf(`in/${name}.mp3`)),
      ],
      { encoding: 'utf8' },
    );
    expect({ signal: died.signal, said: died.stderr }).toEqual({ signal: 'SIGKILL', said: '' });
    const known = await pathOf(killed);
    expect(known).toBe(step === 'settled' ? `in/${to}.mp3` : `in/${name}.mp3`);
    await finish(id, to);
    expect([existsSync(at(`in/${name}.mp3`)), readFileSync(at(`in/${to}.mp3`)).equals(bytes)]).toEqual([false, true]);
  });
  test('with both names there, the old one goes; with another file at the new name, nothing does', async () => {
    const id = await waiting('g', 'both');
    linkSync(at('in/g.mp3'), at('in/both.mp3'));
    await finish(id, 'both');
    expect(existsSync(at('in/g.mp3'))).toBe(false);
    const other = await waiting('both', 'taken');
    copyFileSync(at('in/a.mp3'), at('in/taken.mp3'));
    await h.restart();
    await h.until(async () => (await details(other)).waiting === 0, 'it is told');
    expect((await details(other)).lines[0]).toMatchObject({
      state: 'failed',
      reason: 'There is a file of that name already',
    });
    expect(existsSync(at('in/both.mp3'))).toBe(true);
  });
});
