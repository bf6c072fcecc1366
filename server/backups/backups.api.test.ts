/** Backups of a real desk: made, verified, kept by their rule, restored; broken off and damaged ones. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { createHash } from 'node:crypto';
import {
  appendFileSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import type { BackupsHere } from '@early-set/core/api/backups';
import type { DeskSettings } from '@early-set/core/api/settings';
import { DEFAULT_SETTINGS } from '@early-set/core/api/settings';
import { onDatabase, rowsOf } from '../db/dumps.ts';
import { buildKiller, dieInBackup } from '../testing/die.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { backupsIn, type Backup } from './folder.ts';
import { makeBackup } from './make.ts';
import { folderBelow } from './places.ts';
import { restoreBackup } from './restore.ts';
import { tidyBackups } from './tidy.ts';
import { verifyBackup } from './verify.ts';

let h: Harness;
let folder: string;
const places = (): { databaseUrl: string; dataFolder: string; folder: string } => ({
  ...{ databaseUrl: h.databaseUrl, dataFolder: join(h.folder, 'data'), folder },
});
const rows = (): Promise<Record<string, number>> => onDatabase(h.databaseUrl, rowsOf);
const here = async (): Promise<BackupsHere> => (await h.get('/backups').expect(200)).body as BackupsHere;
const titles = async (): Promise<string[]> =>
  (await h.query<{ title: string }>('SELECT title FROM tracks ORDER BY path')).map((r) => r.title);
const retitle = (title: string): Promise<unknown> => h.query('UPDATE tracks SET title = $1', [title]);
const objects = (): string[] => {
  const base = join(folder, 'objects');
  return existsSync(base) ? readdirSync(base).flatMap((two) => readdirSync(join(base, two))) : [];
};

beforeAll(async () => {
  await buildKiller();
  h = await startHarness();
  folder = join(h.folder, 'data/backups');
  for (const name of ['a.mp3', 'b.mp3']) makeAudio(join(h.music, name), { seconds: 1, tags: { title: name } });
  await h.takeIn(h.music, false);
  const art = join(h.folder, 'data/art/originals/ab');
  mkdirSync(art, { recursive: true });
  writeFileSync(join(art, 'ab01'), 'a cover');
  mkdirSync(join(h.folder, 'data/handover/1/state'), { recursive: true });
  writeFileSync(join(h.folder, 'data/handover/1/state/past'), 'then');
});
afterAll(() => h.stop());

test('one that is asked for is made, verified by restoring it, and shown with what it holds', async () => {
  await h.post('/lists', { kind: 'crate', name: 'Friday', parentId: null });
  await h.post('/backups').expect(200);
  await h.until(async () => (await here()).backups.some(({ verifiedAt }) => verifiedAt !== null), 'one is verified');
  const { backups, trouble, sameDrive, canRestore } = await here();
  expect(backups).toMatchObject([
    { ...{ reason: 'by hand', tracks: 2, lists: 1, files: 2, trouble: null, newer: false }, keptAs: expect.anything() },
  ]);
  expect({ trouble, sameDrive, canRestore }).toEqual({ trouble: null, sameDrive: true, canRestore: false });
  // Nothing is left beside the desk's database.
  expect(await h.query("SELECT datname FROM pg_database WHERE datname LIKE current_database() || '\\_%'")).toEqual([]);
  expect(statSync(folder).mode & 0o077).toBe(0);
  const refused = await h.post(`/backups/${backups[0]!.id}/restore`).expect(409);
  expect(refused.body).toMatchObject({ error: { code: 'not-here' } });
});

test('files that several have are kept once, and go with the last that has them', async () => {
  const state = join(h.folder, 'data/handover/1/state/past');
  writeFileSync(state, 'later');
  const second = await makeBackup(places(), { reason: 'schedule' });
  expect(second.manifest.files.count).toBe(2);
  expect(objects()).toHaveLength(3);
  writeFileSync(state, 'then');
  await h.delete(`/backups/${second.id}`).expect(200);
  expect(objects()).toHaveLength(2);
  await h.delete(`/backups/${second.id}`).expect(404);
  await h.delete('/backups/.making-1').expect(400);
});

describe('restoring', () => {
  let kept: Backup;
  let before: Record<string, number>;
  beforeAll(async () => {
    kept = await makeBackup(places(), { reason: 'by hand' });
    before = await rows();
  });

  test('puts everything back, and backs up first what it replaces', async () => {
    await retitle('Changed by mistake');
    await h.query("INSERT INTO lists (id, kind, name, position) VALUES (gen_random_uuid(), 'crate', 'Later', 9)");
    writeFileSync(join(h.folder, 'data/handover/1/state/past'), 'after');
    rmSync(join(h.folder, 'data/art/originals/ab'), { recursive: true });
    let replaced: string | null = null;
    await h.restart(async () => {
      replaced = await restoreBackup(places(), kept.id);
    });
    expect(await titles()).toEqual(['a.mp3', 'b.mp3']);
    expect(readFileSync(join(h.folder, 'data/handover/1/state/past'), 'utf8')).toBe('then');
    expect(readFileSync(join(h.folder, 'data/art/originals/ab/ab01'), 'utf8')).toBe('a cover');
    expect({ ...(await rows()), 'public.settings': 0, 'public.workers': 0 }).toEqual({
      ...{ ...before, 'public.settings': 0, 'public.workers': 0 },
    });
    expect(existsSync(join(h.folder, 'data/restoring'))).toBe(false);
    // And back again.
    await h.restart(() => restoreBackup(places(), replaced!));
    expect(await titles()).toEqual(['Changed by mistake', 'Changed by mistake']);
    expect(readFileSync(join(h.folder, 'data/handover/1/state/past'), 'utf8')).toBe('after');
  });

  test.each([
    ['Backing up what is there now', false],
    ['Restoring the database', false],
    ['Restoring covers, and what is kept of destinations', false],
    ['Putting it in its place', false],
    ['Finishing', true],
  ])('killed at "%s", the next start has the one or the other, whole', async (step, restored) => {
    const state = join(h.folder, 'data/handover/1/state/past');
    await retitle('Now');
    writeFileSync(state, 'now');
    await h.restart(() => dieInBackup(h, folder, step, kept.id));
    expect(await titles()).toEqual(restored ? ['a.mp3', 'b.mp3'] : ['Now', 'Now']);
    expect(readFileSync(state, 'utf8')).toBe(restored ? 'then' : 'now');
    expect(existsSync(join(h.folder, 'data/restoring'))).toBe(false);
    expect(await h.query("SELECT datname FROM pg_database WHERE datname LIKE current_database() || '\\_%'")).toEqual(
      [],
    );
  });

  test('cancelled before its last step, everything is as it was', async () => {
    await retitle('Uncancelled');
    for (const step of [
      'Backing up what is there now',
      'Restoring the database',
      'Restoring covers, and what is kept of destinations',
    ]) {
      const stop = new AbortController();
      await h.restart(async () => {
        const restoring = restoreBackup(places(), kept.id, {
          signal: stop.signal,
          tell: (said) => {
            if (said === step) stop.abort();
          },
        });
        await expect(restoring).rejects.toThrow('aborted');
      });
      expect(await titles()).toEqual(['Uncancelled', 'Uncancelled']);
      expect(existsSync(join(h.folder, 'data/restoring'))).toBe(false);
      expect(await h.query("SELECT datname FROM pg_database WHERE datname LIKE current_database() || '\\_%'")).toEqual(
        [],
      );
    }
  });

  test('a desk that stopped answering is sent away for it', async () => {
    await retitle('In use');
    // The server and the test's own connections are still there.
    await restoreBackup(places(), kept.id);
    await h.until(async () => (await titles().catch(() => []))[0] === 'a.mp3', 'the database is there again');
    await h.restart();
    expect(await titles()).toEqual(['a.mp3', 'b.mp3']);
  });
});

describe('what goes wrong', () => {
  test('a backup that is killed leaves nothing that is taken for one', async () => {
    const many = (await backupsIn(folder)).length;
    for (const step of ['The database', 'Covers, and what is kept of destinations']) dieInBackup(h, folder, step);
    expect((await here()).backups).toHaveLength(many);
    expect(readdirSync(folder).some((name) => name.startsWith('.making-'))).toBe(true);
    await makeBackup(places(), { reason: 'schedule' });
    expect(readdirSync(folder).some((name) => name.startsWith('.making-'))).toBe(false);
  });

  test.each([
    ['database.dump', 'The database in it is not what was written'],
    ['files.jsonl', 'The list of its files is not what was written'],
  ])('a damaged %s is found, said, and restores nothing', async (name, words) => {
    const backup = await makeBackup(places(), { reason: 'by hand' });
    appendFileSync(join(backup.folder, name), '\n{"path":"handover/../../x","bytes":1,"modifiedMs":1,"sha256":"00"}\n');
    expect(await verifyBackup(places(), backup)).toBe(words);
    expect((await here()).backups.find(({ id }) => id === backup.id)!.trouble).toBe(words);
    await retitle('Kept');
    await expect(restoreBackup(places(), backup.id)).rejects.toThrow(words);
    // Nor does one whose list was changed by somebody who also knew what it is checked by.
    const list = readFileSync(join(backup.folder, 'files.jsonl'));
    const sums = { ...backup.manifest.files, sha256: createHash('sha256').update(list).digest('hex') };
    writeFileSync(join(backup.folder, 'backup.json'), JSON.stringify({ ...backup.manifest, files: sums }));
    if (name === 'files.jsonl')
      await expect(restoreBackup(places(), backup.id)).rejects.toThrow('a file where none belongs');
    expect(await titles()).toEqual(['Kept', 'Kept']);
    rmSync(backup.folder, { recursive: true });
  });

  test('a file that is missing or changed is found, and restores nothing', async () => {
    const backup = await makeBackup(places(), { reason: 'by hand' });
    writeFileSync(join(h.folder, 'data/handover/1/state/past'), 'unheard of');
    const changed = await makeBackup(places(), { reason: 'by hand' });
    const object = objects().find(
      (sum) => readFileSync(join(folder, 'objects', sum.slice(0, 2), sum), 'utf8') === 'unheard of',
    )!;
    writeFileSync(join(folder, 'objects', object.slice(0, 2), object), 'unheard oF');
    expect(await verifyBackup(places(), changed)).toBe('handover/1/state/past is not what it was');
    await expect(restoreBackup(places(), changed.id)).rejects.toThrow('The backup is not whole: handover/1/state/past');
    rmSync(join(folder, 'objects', object.slice(0, 2), object));
    expect(await verifyBackup(places(), changed)).toBe('handover/1/state/past is not there any more');
    expect(await verifyBackup(places(), backup)).toBeNull();
  });

  test('rows that are missing in it are found', async () => {
    const backup = await makeBackup(places(), { reason: 'by hand' });
    const path = join(backup.folder, 'backup.json');
    const { manifest } = backup;
    writeFileSync(path, JSON.stringify({ ...manifest, rows: { ...manifest.rows, 'public.tracks': 3 } }));
    const [again] = (await backupsIn(folder)).filter(({ id }) => id === backup.id);
    expect(await verifyBackup(places(), again!)).toBe('public.tracks has 2 rows in it where it should have 3');
    await expect(restoreBackup(places(), backup.id)).rejects.toThrow('The backup is not whole');
  });

  test('one of a newer version is shown, and refused', async () => {
    const backup = await makeBackup(places(), { reason: 'by hand' });
    writeFileSync(join(backup.folder, 'backup.json'), JSON.stringify({ ...backup.manifest, schema: '999-later' }));
    expect((await here()).backups.find(({ id }) => id === backup.id)!.newer).toBe(true);
    await expect(restoreBackup(places(), backup.id)).rejects.toThrow('newer version');
  });

  test('a folder that is not there, or is read for music, is refused in words', async () => {
    const settings: DeskSettings['backups'] = { ...DEFAULT_SETTINGS.backups, folder: join(h.folder, 'nowhere') };
    await h.patch('/backups/settings', settings).expect(404);
    const inside = await h.patch('/backups/settings', { ...settings, folder: h.music }).expect(409);
    expect(inside.body).toMatchObject({ error: { code: 'inside-root' } });
    const drive = join(h.folder, 'drive');
    mkdirSync(drive);
    await h.patch('/backups/settings', { ...settings, folder: drive, at: '25:00' }).expect(400);
    await h.patch('/backups/settings', { ...settings, folder: drive }).expect(200);
    const own = join(drive, 'Early Set backups');
    expect(await here()).toMatchObject({ folder: own, trouble: null });
    rmSync(drive, { recursive: true });
    expect((await here()).trouble).toBe(`The folder for backups is not there: ${own}`);
    // Away or not, how long they stay can be said.
    await h.patch('/backups/settings', { ...settings, folder: own, at: '05:00' }).expect(200);
    const { body } = await h.post('/backups').expect(200);
    const { runId } = body as { runId: number };
    const run = async (): Promise<{ state: string; reason: string }> =>
      (await h.query<{ state: string; reason: string }>('SELECT state, reason FROM runs WHERE id = $1', [runId]))[0]!;
    await h.until(async () => (await run()).state === 'failed', 'it is said');
    expect((await run()).reason).toBe(`The folder for backups is not there: ${own}`);
    await h.patch('/backups/settings', { ...settings, folder: null }).expect(200);
  });
});

test('two libraries that choose one folder keep their backups apart; a folder of backups is gone on with', async () => {
  const drive = join(h.folder, 'shared');
  mkdirSync(drive);
  const first = await folderBelow(drive);
  expect(await folderBelow(drive)).toBe(first);
  await makeBackup({ ...places(), folder: first }, { reason: 'schedule' });
  expect(await folderBelow(drive)).toBe(join(drive, 'Early Set backups 2'));
  expect(await folderBelow(first)).toBe(first);
});

test('what the rule does not keep goes, its files too', async () => {
  rmSync(folder, { recursive: true });
  const on = (day: number): Date => new Date(2026, 9, day, 4);
  for (const day of [1, 2, 3, 4]) {
    writeFileSync(join(h.folder, 'data/handover/1/state/past'), `day ${day}`);
    await makeBackup(places(), { reason: 'schedule', now: on(day) });
  }
  expect(objects()).toHaveLength(5);
  expect(await tidyBackups(folder, { days: 2, weeks: 0, months: 0 }, on(5))).toBe(2);
  expect((await backupsIn(folder)).map(({ manifest }) => new Date(manifest.madeAt))).toEqual([on(4), on(3)]);
  expect(objects()).toHaveLength(3);
});
