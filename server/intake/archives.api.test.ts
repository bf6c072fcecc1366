/** Archives in a library folder: looked into, unpacked whole or not at all, and not twice. Real zip files. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { ZipArchive } from 'archiver';
import { createHash } from 'node:crypto';
import { createWriteStream, existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import type { ArchiveListing, UnpackReport } from '@early-set/core/api/intake';
import type { NotTaken, RunProgress } from '@early-set/core/api/types';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let rootId: number;
const inMusic = (path: string): string => join(h.music, path);
const sum = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');
const look = (path: string) => h.get(`/roots/${rootId}/archive?path=${encodeURIComponent(path)}`);
const listing = async (path: string): Promise<ArchiveListing> => (await look(path).expect(200)).body as ArchiveListing;
const runs = async (): Promise<RunProgress[]> => (await h.get('/runs')).body as RunProgress[];
const ended = async (runId: number): Promise<RunProgress> => {
  const one = async (): Promise<RunProgress> => (await runs()).find((r) => r.id === runId)!;
  await h.until(async () => (await one()).state !== 'running', 'the run has ended');
  await h.until(async () => (await runs()).every((r) => r.state !== 'running'), 'the folder is read');
  return one();
};
const unpack = async (path: string): Promise<RunProgress> => {
  const { body } = await h.post(`/roots/${rootId}/archive`, { path }).expect(200);
  return ended((body as { runId: number }).runId);
};
const hidden = (): string[] => readdirSync(h.music).filter((name) => name.startsWith('.'));

async function zip(to: string, files: Record<string, string | Buffer>, level = 6): Promise<void> {
  const archive = new ZipArchive({ zlib: { level } });
  const out = createWriteStream(to);
  archive.pipe(out);
  for (const [name, content] of Object.entries(files)) archive.append(content, { name });
  await archive.finalize();
  await finished(out);
}

let songs: Buffer[];
beforeAll(async () => {
  h = await startHarness();
  mkdirSync(inMusic('Inbox'));
  for (let i = 0; i < 3; i++)
    makeAudio(join(h.folder, `${i}.mp3`), { seconds: 2, hz: 200 + 60 * i, tags: { title: `Tide ${i}` } });
  songs = [0, 1, 2].map((i) => readFileSync(join(h.folder, `${i}.mp3`)));
  await zip(inMusic('Inbox/Harbour set.zip'), {
    'Harbour/01 Tide.mp3': songs[0]!,
    'Harbour/02 Ebb.mp3': songs[1]!,
    'Harbour/02 Ebb.cdg': Buffer.alloc(2400, 9),
    'Harbour/read me.txt': 'hello',
  });
  rootId = await h.takeIn(h.music, false);
}, 60_000);
afterAll(() => h?.stop());

test('an archive is listed as not taken; what it holds is told, and nothing is unpacked by looking', async () => {
  const refused = (await h.get(`/roots/${rootId}/not-taken`)).body as NotTaken[];
  expect(refused.map((r) => r.path)).toEqual(['Inbox/Harbour set.zip']);
  const { entries, files, into, trouble } = await listing('Inbox/Harbour set.zip');
  expect([files, into, trouble]).toEqual([3, 'Inbox/Harbour set', null]);
  expect(entries.filter((e) => e.why).map((e) => [e.name, e.why])).toEqual([
    ['Harbour/read me.txt', 'Text, not music'],
  ]);
  expect(readdirSync(inMusic('Inbox'))).toEqual(['Harbour set.zip']);
});

test('unpacked, its files are what was packed, and are tracks; the archive is as it was', async () => {
  const before = sum(inMusic('Inbox/Harbour set.zip'));
  const run = await unpack('Inbox/Harbour set.zip');
  expect(run).toMatchObject({ state: 'done', done: 3, report: { unpacked: 3, left: 1, into: 'Inbox/Harbour set' } });
  expect(readFileSync(inMusic('Inbox/Harbour set/Harbour/01 Tide.mp3'))).toEqual(songs[0]);
  expect(readFileSync(inMusic('Inbox/Harbour set/Harbour/02 Ebb.mp3'))).toEqual(songs[1]);
  expect(existsSync(inMusic('Inbox/Harbour set/Harbour/02 Ebb.cdg'))).toBe(true);
  const tracks = await h.query<{ title: string }>('SELECT title FROM tracks ORDER BY title');
  expect(tracks.map((t) => t.title)).toEqual(['Tide 0', 'Tide 1']);
  expect(sum(inMusic('Inbox/Harbour set.zip'))).toBe(before);
  expect(hidden()).toEqual([]);
});

test('a second time it lies beside the first; begun again after a kill in the last moment, it is not there twice', async () => {
  const again = await unpack('Inbox/Harbour set.zip');
  expect((again.report as UnpackReport).into).toBe('Inbox/Harbour set (2)');
  // Killed right after the rename: the run is told as running, and its job comes again.
  await h.query("UPDATE runs SET state = 'running', finished_at = NULL WHERE id = $1", [again.id]);
  await h.query("SELECT graphile_worker.add_job('unpack', json_build_object('runId', $1::int))", [again.id]);
  expect(await ended(again.id)).toMatchObject({ state: 'done', done: 3 });
  expect(readdirSync(inMusic('Inbox')).sort()).toEqual(['Harbour set', 'Harbour set (2)', 'Harbour set.zip']);
  // Killed before it: what lay aside is thrown away, and all of it is unpacked anew.
  await h.query("UPDATE runs SET state = 'running', finished_at = NULL, report = NULL WHERE id = $1", [again.id]);
  mkdirSync(inMusic(`.early-set-unpacking-${again.id}`));
  writeFileSync(inMusic(`.early-set-unpacking-${again.id}/half.mp3`), 'half');
  await h.query("SELECT graphile_worker.add_job('unpack', json_build_object('runId', $1::int))", [again.id]);
  const third = await ended(again.id);
  expect((third.report as UnpackReport).into).toBe('Inbox/Harbour set (3)');
  expect(existsSync(inMusic('Inbox/Harbour set (3)/half.mp3'))).toBe(false);
  expect(hidden()).toEqual([]);
});

test('into a chosen folder it is unpacked under its name; one that leads out or is hidden is refused', async () => {
  const into = { rootId, path: 'Karaoke/New' };
  const wish = { path: 'Inbox/Harbour set.zip', into };
  const { runId } = (await h.post(`/roots/${rootId}/archive`, wish).expect(200)).body as { runId: number };
  expect(((await ended(runId)).report as UnpackReport).into).toBe('Karaoke/New/Harbour set');
  expect(readdirSync(inMusic('Karaoke/New/Harbour set/Harbour')).sort()).toEqual([
    '01 Tide.mp3',
    '02 Ebb.cdg',
    '02 Ebb.mp3',
  ]);
  for (const path of ['../out', '.hidden'])
    await h.post(`/roots/${rootId}/archive`, { ...wish, into: { rootId, path } }).expect(400);
  await h.post(`/roots/${rootId}/archive`, { ...wish, into: { rootId: 99, path: '' } }).expect(404);
  expect(hidden()).toEqual([]);
});

test('one that is broken in the middle is unpacked not at all, and says where', async () => {
  await zip(inMusic('torn.zip'), { 'a.mp3': songs[0]!, 'b.mp3': songs[2]! }, 0);
  const bytes = readFileSync(inMusic('torn.zip'));
  const at = bytes.indexOf(songs[2]!.subarray(2000, 2050)) + 10;
  bytes[at] = bytes[at]! ^ 0xff;
  writeFileSync(inMusic('torn.zip'), bytes);
  const run = await unpack('torn.zip');
  expect(run).toMatchObject({ state: 'failed', reason: 'The archive is broken at b.mp3; nothing was unpacked' });
  expect(existsSync(inMusic('torn'))).toBe(false);
  expect(hidden()).toEqual([]);
});

test('what leads out of the folder stays in the archive; what is no archive or not there says so', async () => {
  await zip(inMusic('evil.zip'), { 'xx/xx/evil.mp3': songs[0]!, 'good.mp3': songs[1]! }, 0);
  const bytes = readFileSync(inMusic('evil.zip')).toString('latin1').replaceAll('xx/xx/evil.mp3', '../../evil.mp3');
  writeFileSync(inMusic('evil.zip'), Buffer.from(bytes, 'latin1'));
  const { entries } = await listing('evil.zip');
  expect(entries.find((e) => e.name.endsWith('evil.mp3'))?.why).toBe('Its path leads out of the archive');
  await unpack('evil.zip');
  expect(readdirSync(inMusic('evil'))).toEqual(['good.mp3']);
  expect(existsSync(join(h.folder, 'evil.mp3'))).toBe(false);

  writeFileSync(inMusic('text.zip'), 'no archive at all');
  await look('text.zip').expect(415);
  await look('nothing.zip').expect(404);
  await look('Inbox/Harbour set/Harbour/01 Tide.mp3').expect(400);
  await look('../outside.zip').expect(404);
  await h.post(`/roots/${rootId}/archive`, { path: 'text.zip' }).expect(415);
  expect(statSync(inMusic('text.zip')).size).toBe(17);
});
