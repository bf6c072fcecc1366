/** Duplicates looked for on real files, settled, and brought back. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, readFileSync, renameSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { CompareReport, Duplicates } from '@early-set/core/api/disk';
import type { Overview, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { startHarness, type Harness } from '../testing/harness.ts';
import { playLike } from '../testing/music.ts';

let h: Harness;

const encode = (from: string, to: string, ...args: string[]): void => {
  const made = spawnSync('ffmpeg', ['-v', 'error', '-y', '-i', from, ...args, to], { encoding: 'utf8' });
  if (made.status !== 0) throw new Error(made.stderr);
};
const file = (name: string): string => join(h.music, name);
const sum = (name: string): string =>
  createHash('sha256')
    .update(readFileSync(file(name)))
    .digest('hex');
const ids = new Map<string, number>();
const id = (name: string): number => ids.get(name)!;

async function groups(): Promise<Duplicates> {
  const { body } = await h.get('/disk/duplicates').expect(200);
  return body as Duplicates;
}
async function look(): Promise<void> {
  const { body } = await h.post('/disk/duplicates/look').send({}).expect(200);
  await over((body as { runId: number }).runId);
}
const over = (runId: number): Promise<void> =>
  h.until(async () => {
    const [run] = await h.query<{ state: string }>('SELECT state FROM runs WHERE id = $1', [runId]);
    return run!.state !== 'running';
  }, 'the run is over');

beforeAll(async () => {
  h = await startHarness();
  const title = (name: string): string[] => ['-metadata', `title=${name}`, '-metadata', 'artist=Odette Kassar'];
  playLike(file('a.flac'), 1, 50, title('Slack Water'));
  encode(file('a.flac'), file('a128.mp3'), '-b:a', '128k');
  encode(file('a.flac'), file('a-short.ogg'), '-t', '34');
  playLike(file('b.flac'), 4, 48, title('Tin Shed Rain'));
  copyFileSync(file('b.flac'), file('b again.flac'));
  playLike(file('c.flac'), 8, 45, title('Coal Hatch'));
  playLike(file('d.flac'), 6, 45, title('Coal Hatch'));
  await h.takeIn();
  for (const row of await h.query<{ id: number; path: string }>('SELECT id, path FROM tracks'))
    ids.set(row.path, row.id);
}, 180_000);
afterAll(() => h?.stop());

test('looking finds the same bytes, the same recording, the one cut short; a song of the same name is kept apart', async () => {
  expect((await groups()).waiting).toBe(7);
  await look();
  const { groups: found, waiting } = await groups();
  expect(waiting).toBe(0);
  const said = found.map((g) => [g.kind, g.version, g.files.map((f) => f.path).sort()]);
  expect(said).toHaveLength(3);
  expect(said).toContainEqual(['cut short', null, ['a-short.ogg', 'a.flac', 'a128.mp3']]);
  expect(said).toContainEqual(['same bytes', null, ['b again.flac', 'b.flac']]);
  expect(said).toContainEqual(['kept apart', 'same song', ['c.flac', 'd.flac']]);
  await h.post('/disk/duplicates/look').send({}).expect(409);
});

const isCounted = (n: number) => async (): Promise<boolean> => {
  const { onDisk, stages } = (await h.get('/overview').expect(200)).body as Overview;
  const where = JSON.stringify({ field: 'duplicate', test: 'is', value: true });
  const shown = (await h.get(`/tracks?limit=1&where=${encodeURIComponent(where)}`)).body as SheetPage;
  return onDisk.duplicate === n && stages.disk.count === n && shown.total === n;
};
test('tracks that are duplicates are such in the sheet and in what is left', async () => {
  await h.until(isCounted(5), 'all of the two open groups are counted');
});

test('what an earlier engine measured waits until it is measured again', async () => {
  await h.query('UPDATE analyses SET waveform_form = 1 WHERE track_id = $1', [id('d.flac')]);
  await h.query('DELETE FROM compared_tracks WHERE track_id = ANY($1::int[])', [[id('c.flac'), id('d.flac')]]);
  expect(await groups()).toMatchObject({ waiting: 1, earlier: 1 });
  // It is still drawn, at the levels that it had.
  const { body } = await h.get(`/tracks/${id('d.flac')}/waveform`).expect(200);
  expect((body as Buffer).length).toBeGreaterThan(45 * 99 * 3);
  await h.query('UPDATE analyses SET waveform_form = 2 WHERE track_id = $1', [id('d.flac')]);
  await look();
  expect(await groups()).toMatchObject({ waiting: 0, earlier: 0 });
});

test('what somebody says is none stays none, until it is taken back', async () => {
  const both = { trackIds: [id('b.flac'), id('b again.flac')] };
  await h
    .post('/disk/duplicates/parted')
    .send({ ...both, parted: true })
    .expect(200);
  expect((await groups()).groups.some((g) => g.kind === 'same bytes')).toBe(false);
  await h.until(isCounted(3), 'they are no longer counted');
  expect((await groups()).parted.map((g) => [g.kind, g.trackIds])).toEqual([
    ['same bytes', both.trackIds.sort((a, b) => a - b)],
  ]);
  await h
    .post('/disk/duplicates/parted')
    .send({ ...both, parted: false })
    .expect(200);
  expect((await groups()).groups.some((g) => g.kind === 'same bytes')).toBe(true);
  expect((await groups()).parted).toEqual([]);
});

describe('settled', () => {
  const before = new Map<string, string>();
  let changeSetId = 0;

  test('what goes lies in quarantine; lists, cues and what was typed are the other’s', async () => {
    for (const name of ids.keys()) before.set(name, sum(name));
    const { body: made } = await h
      .post('/lists')
      .send({ kind: 'playlist', name: 'Slipway', parentId: null })
      .expect(200);
    const { listId } = made as { listId: string };
    await h
      .post(`/lists/${listId}/entries`)
      .send({ selection: { ids: [id('a128.mp3')] } })
      .expect(200);
    await h
      .post('/fields')
      .send({ selection: { ids: [id('a128.mp3')] }, field: 'notes', value: 'Long intro' })
      .expect(200);
    for (const name of ['a128.mp3']) before.set(name, sum(name));
    const { body } = await h
      .post('/disk/duplicates/settle')
      .send({
        groups: [
          { keep: id('a.flac'), go: [id('a128.mp3'), id('a-short.ogg')] },
          { keep: id('b.flac'), go: [id('b again.flac')] },
        ],
      })
      .expect(200);
    changeSetId = (body as { changeSetId: number }).changeSetId;
    for (const name of ['a128.mp3', 'a-short.ogg', 'b again.flac']) expect(existsSync(file(name))).toBe(false);
    for (const name of ['a.flac', 'b.flac', 'c.flac', 'd.flac']) expect(existsSync(file(name))).toBe(true);
    const retired = await h.query<{ path: string; track_id: number }>(
      "SELECT path, track_id FROM track_files WHERE state = 'retired'",
    );
    expect(retired.map((r) => r.track_id).sort()).toEqual([id('a.flac'), id('a.flac'), id('b.flac')].sort());
    for (const { path } of retired) expect(existsSync(file(path))).toBe(true);
    const { body: kept } = await h.get(`/tracks/${id('a.flac')}`).expect(200);
    expect((kept as TrackDetails).values.notes).toBe('Long intro');
    const entries = await h.query<{ track_id: number }>('SELECT track_id FROM list_entries WHERE list_id = $1', [
      listId,
    ]);
    expect(entries).toEqual([{ track_id: id('a.flac') }]);
    expect((await groups()).groups.map((g) => g.kind)).toEqual(['kept apart']);
  });

  test('a scan does not take them in again', async () => {
    const [root] = await h.query<{ id: number }>('SELECT id FROM roots');
    const { body } = await h.post(`/roots/${root!.id}/scan`).send({}).expect(200);
    await over((body as { runId: number }).runId);
    expect(await h.query('SELECT id FROM tracks')).toHaveLength(4);
  });

  test('undo brings all back, byte for byte, and the groups with them', async () => {
    await h.post(`/changes/${changeSetId}/undo`).send({}).expect(200);
    for (const [name, bytes] of before) expect([name, sum(name)]).toEqual([name, bytes]);
    expect((await groups()).groups.map((g) => g.kind).sort()).toEqual(['cut short', 'kept apart', 'same bytes']);
    const entries = await h.query<{ track_id: number }>('SELECT track_id FROM list_entries');
    expect(entries).toEqual([{ track_id: id('a128.mp3') }]);
  });

  test('a track in two groups, or one that is no duplicate, is refused, and nothing is done', async () => {
    const settle = (wished: object[]) => h.post('/disk/duplicates/settle').send({ groups: wished });
    await settle([
      { keep: id('a.flac'), go: [id('a128.mp3')] },
      { keep: id('b.flac'), go: [id('a128.mp3')] },
    ]).expect(400);
    await settle([{ keep: id('c.flac'), go: [id('d.flac')] }]).expect(409);
    await settle([{ keep: id('a.flac'), go: [id('c.flac')] }]).expect(409);
    expect(existsSync(file('a128.mp3'))).toBe(true);
  });

  test('a file that went away meanwhile is told by name, and the rest is done', async () => {
    rmSync(file('a-short.ogg'));
    const { body } = await h
      .post('/disk/duplicates/settle')
      .send({ groups: [{ keep: id('a.flac'), go: [id('a128.mp3'), id('a-short.ogg')] }] })
      .expect(200);
    expect(JSON.stringify(body)).toMatch(/a-short\.ogg|not there/);
    expect(existsSync(file('a128.mp3'))).toBe(false);
  });
});

describe('by themselves', () => {
  test('new files are compared once they are measured; the run says what was here already, better or not', async () => {
    await h.stop();
    h = await startHarness({ compare: true });
    playLike(file('a.flac'), 1, 40);
    encode(file('a.flac'), file('a128.mp3'), '-b:a', '128k');
    playLike(file('b.flac'), 4, 40);
    encode(file('b.flac'), file('b128.mp3'), '-b:a', '128k');
    const later = ['a.flac', 'b128.mp3'].map((name) => [file(name), join(h.folder, name)] as const);
    for (const [here, away] of later) renameSync(here, away);
    const rootId = await h.takeIn();
    const reports = async (): Promise<CompareReport[]> =>
      (
        await h.query<{ report: CompareReport }>(
          "SELECT report FROM runs WHERE kind = 'duplicates' AND state = 'done' ORDER BY id",
        )
      ).map((r) => r.report);
    await h.until(async () => (await reports()).length === 1, 'the first two are compared');
    expect((await reports())[0]).toMatchObject({ compared: 2, here: 0, better: 0 });
    for (const [here, away] of later) renameSync(away, here);
    await h.post(`/roots/${rootId}/scan`).send({}).expect(200);
    await h.until(async () => (await reports()).length === 2, 'the others are compared');
    expect((await reports())[1]).toMatchObject({ compared: 2, here: 2, better: 1 });
    expect((await groups()).groups.map((g) => g.kind)).toEqual(['same recording', 'same recording']);
  }, 120_000);
});
