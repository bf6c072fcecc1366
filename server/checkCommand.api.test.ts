/** `npm run check` on a real database: what is well, and each thing that is not. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { checkAll, checkNode, inLines } from './checkCommand.ts';
import { checkFfmpeg } from './health/programs.ts';
import { makeAudio, startHarness, type Harness } from './testing/harness.ts';

let h: Harness;
const data = (): string => join(h.folder, 'data');
const said = async (about: string): Promise<{ trouble: string | null; note: string } | undefined> =>
  (await checkAll(h.databaseUrl, data())).find((finding) => finding.about === about);

beforeAll(async () => {
  h = await startHarness();
  makeAudio(join(h.music, 'a.mp3'), { seconds: 1 });
  await h.takeIn(h.music, false);
});
afterAll(() => h.stop());

test('a good installation has nothing wrong with it but that no backup is there', async () => {
  const wrong = (await checkAll(h.databaseUrl, data())).filter(({ trouble }) => trouble !== null);
  expect(wrong.map(({ about, trouble }) => [about, trouble])).toEqual([['Backups', 'There is none yet.']]);
  expect((await said('Database'))!.note).toMatch(/^PostgreSQL \d+, 1 tracks, /);
  expect(inLines([{ about: 'Node.js', trouble: null, note: '20.11.0' }])).toEqual(['ok  Node.js: 20.11.0']);
});

test('a backup that is there, and one that cannot be restored', async () => {
  await h.post('/backups').expect(200);
  const made = async (): Promise<{ verifiedAt: string | null; id: string } | undefined> =>
    ((await h.get('/backups')).body as { backups: { verifiedAt: string | null; id: string }[] }).backups[0];
  await h.until(
    async () => (await made())?.verifiedAt !== undefined && (await made())!.verifiedAt !== null,
    'verified',
  );
  expect(await said('Backups')).toMatchObject({ trouble: null, note: expect.stringContaining('less than a day old') });
  const verified = join(data(), 'backups', (await made())!.id, 'verified.json');
  writeFileSync(verified, JSON.stringify({ at: '2026-11-30T10:00:00Z', trouble: 'tracks has 1 rows' }));
  expect((await said('Backups'))!.trouble).toBe('The last one cannot be restored: tracks has 1 rows.');
});

test('a folder that is gone, a file in its place, a newer schema, a database that does not answer', async () => {
  await h.query("UPDATE roots SET path = path || '/gone'");
  expect((await said('Folder music'))!.trouble).toBe('It is not there. Is its drive connected?');
  writeFileSync(join(h.music, 'gone'), '');
  expect((await said('Folder music'))!.trouble).toBe('It is a file, not a folder.');
  rmSync(join(h.music, 'gone'));
  mkdirSync(join(h.music, 'gone'));
  expect((await said('Folder music'))!.trouble).toBeNull();
  await h.query("INSERT INTO migrations (name) VALUES ('999-later')");
  expect((await said('Database'))!.trouble).toMatch(/^A newer version/);
  const [first] = (await checkAll('postgres://app:x@127.0.0.1:1/none', data())).filter((f) => f.about === 'Database');
  expect(first!.trouble).toMatch(/^It does not answer/);
});

test('programs that are too old or not there', async () => {
  expect(checkNode('18.20.1').trouble).toBe('Early Set needs Node.js 20.11 or later.');
  expect(checkNode('20.9.0').trouble).not.toBeNull();
  expect(checkNode('22.1.0').trouble).toBeNull();
  expect((await checkFfmpeg('/nowhere/ffmpeg')).trouble).toContain('apt-get install');
});
