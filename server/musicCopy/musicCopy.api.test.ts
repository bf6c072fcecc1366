/** A copy of the music on another drive: what is copied, renamed, replaced, told; what is never removed unasked. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import {
  appendFileSync,
  chmodSync,
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  statSync,
  unlinkSync,
  utimesSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import type { CopyExtra, MusicCopyHere, MusicCopyReport } from '@early-set/core/api/musicCopy';
import type { RunProgress } from '@early-set/core/api/types';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { testOnDrive, mountSmall, unmount } from '../testing/mounts.ts';
import { copyDaily } from './daily.ts';

let h: Harness;
let drive: string;
let copy: string;
const here = async (): Promise<MusicCopyHere> => (await h.get('/music-copy').expect(200)).body as MusicCopyHere;
const at = (...parts: string[]): string => join(h.music, ...parts);
const there = (...parts: string[]): string => join(copy, ...parts);
/** A file's times are told apart even where it is written twice within one tick. */
let tick = 1_700_000_000.5;
const touch = (path: string): void => utimesSync(path, (tick += 10), tick);

async function run(what: 'copy' | 'check' = 'copy'): Promise<RunProgress & { report: MusicCopyReport }> {
  const { runId } = (await h.post('/music-copy/run', { what }).expect(200)).body as { runId: number };
  let last: RunProgress | undefined;
  await h.until(async () => {
    last = ((await h.get('/runs')).body as RunProgress[]).find(({ id }) => id === runId);
    return last!.state !== 'running';
  }, 'it is copied');
  return last as RunProgress & { report: MusicCopyReport };
}
const NOTHING = { same: 0, copied: 0, replaced: 0, renamed: 0, setAside: 0, failed: 0, trouble: null };
const came = async (): Promise<Record<string, unknown>> => {
  const { same, copied, replaced, renamed, setAside, failed, trouble } = (await run()).report.roots[0]!;
  return { same, copied, replaced, renamed, setAside, failed, trouble };
};
const extras = async (state: CopyExtra['state']): Promise<CopyExtra[]> =>
  (await here()).extras.filter((one) => one.state === state);
const filesIn = (folder: string): string[] =>
  (
    readdirSync(folder, { recursive: true, withFileTypes: true }) as {
      name: string;
      parentPath: string;
      isFile(): boolean;
    }[]
  )
    .filter((entry) => entry.isFile())
    .map(({ parentPath, name }) => join(parentPath, name).slice(folder.length + 1))
    .filter((path) => !path.startsWith('.'))
    .sort();

beforeAll(async () => {
  h = await startHarness();
  drive = join(h.folder, 'other drive');
  mkdirSync(drive);
  mkdirSync(at('House/deep'), { recursive: true });
  for (const [i, path] of ['House/a.mp3', 'House/deep/b.flac', 'c.wav', 'd.mp3'].entries())
    makeAudio(at(path), { seconds: 1, hz: 300 + 100 * i, tags: { title: path } });
  writeFileSync(at('House/cover.jpg'), 'no picture, but a file');
  writeFileSync(at('.hidden'), 'not ours');
  await h.takeIn(h.music, false);
});
afterAll(() => h?.stop());

test('no copy is made before a folder is chosen, nor into a folder of music', async () => {
  expect((await h.post('/music-copy/run', { what: 'copy' })).status).toBe(409);
  expect((await h.patch('/music-copy/settings', { folder: at('House') })).status).toBe(409);
  expect((await h.patch('/music-copy/settings', { folder: '/etc' })).status).toBe(403);
  const { body } = await h.patch('/music-copy/settings', { folder: drive }).expect(200);
  const { settings, sameDrive, roots } = body as MusicCopyHere;
  expect(settings).toEqual({ folder: join(drive, 'Early Set music copy'), daily: true, leftOut: [] });
  expect([sameDrive, roots.map(({ label, files }) => [label, files])]).toEqual([true, [['music', 0]]]);
  copy = join(settings.folder!, 'music');
});

test('everything is copied with its times, and a list of checksums that others can check', async () => {
  expect(await came()).toEqual({ ...NOTHING, copied: 5 });
  expect(filesIn(copy)).toEqual([
    'House/a.mp3',
    'House/cover.jpg',
    'House/deep/b.flac',
    'c.wav',
    'd.mp3',
    'early-set.sha256',
  ]);
  expect(readFileSync(there('c.wav'))).toEqual(readFileSync(at('c.wav')));
  expect(statSync(there('c.wav')).mtimeMs).toBeCloseTo(statSync(at('c.wav')).mtimeMs, 0);
  const checked = spawnSync('sha256sum', ['--check', '--strict', 'early-set.sha256'], { cwd: copy, encoding: 'utf8' });
  expect([checked.status, checked.stdout.match(/OK/g)?.length]).toEqual([0, 5]);
  expect((await here()).roots[0]).toMatchObject({ files: 5, bytes: expect.any(Number) });
  expect(await came()).toEqual({ ...NOTHING, same: 5 });
});

test('what is renamed is renamed there, folders too; nothing is copied for it', async () => {
  renameSync(at('House'), at('Deep House'));
  renameSync(at('c.wav'), at('Deep House/first.wav'));
  const before = statSync(there('House/deep/b.flac')).ino;
  expect(await came()).toEqual({ ...NOTHING, same: 1, renamed: 4 });
  expect(statSync(there('Deep House/deep/b.flac')).ino).toBe(before);
  expect(existsSync(there('House'))).toBe(false);
  expect(await came()).toEqual({ ...NOTHING, same: 5 });
});

test('other tags are copied over; another sound too, but what lay there is set aside and can be put back', async () => {
  const tagged = spawnSync(process.execPath, [
    'bin/early-set',
    'tag',
    at('Deep House/a.mp3'),
    '--set',
    'title=Another',
  ]);
  expect(tagged.status).toBe(0);
  makeAudio(at('d.mp3'), { seconds: 1, hz: 900 });
  touch(at('d.mp3'));
  const flac = readFileSync(at('Deep House/deep/b.flac'));
  writeFileSync(at('Deep House/deep/b.flac'), flac); // only its time is another
  touch(at('Deep House/deep/b.flac'));
  const was = readFileSync(there('d.mp3'));
  const outcome = await came();
  expect(outcome).toEqual({ ...NOTHING, same: 3, replaced: 2, setAside: 1 });
  expect(readFileSync(there('Deep House/a.mp3'))).toEqual(readFileSync(at('Deep House/a.mp3')));
  expect(readFileSync(there('d.mp3'))).toEqual(readFileSync(at('d.mp3')));
  const [aside] = await extras('aside');
  expect(aside).toMatchObject({ path: 'd.mp3', size: was.length });
  expect(readFileSync(there('.early-set-quarantine', aside!.id, 'd.mp3'))).toEqual(was);
});

test('what is gone here stays there, is told, and goes by a draft; undo brings it back', async () => {
  unlinkSync(at('Deep House/a.mp3'));
  unlinkSync(at('Deep House/cover.jpg'));
  expect(await came()).toMatchObject({ same: 3, failed: 0 });
  expect((await extras('gone')).map(({ path }) => path)).toEqual(['Deep House/a.mp3', 'Deep House/cover.jpg']);
  expect(existsSync(there('Deep House/a.mp3'))).toBe(true);

  const [song] = await extras('gone');
  const { changeSetId } = (await h.post('/music-copy/remove', { ids: [song!.id] }).expect(200)).body as {
    changeSetId: number;
  };
  expect(existsSync(there('Deep House/a.mp3'))).toBe(false);
  expect((await extras('gone')).map(({ path }) => path)).toEqual(['Deep House/cover.jpg']);
  expect((await extras('aside')).map(({ path }) => path)).toContain('Deep House/a.mp3');
  await h.post(`/changes/${changeSetId}/undo`).expect(200);
  expect(existsSync(there('Deep House/a.mp3'))).toBe(true);

  appendFileSync(there('Deep House/cover.jpg'), 'changed there');
  const refused = (await h.post('/music-copy/remove', { ids: null }).expect(200)).body as { changeSetId: number };
  const { body: left } = await h.get(`/changes/${refused.changeSetId}`).expect(200);
  expect(JSON.stringify(left)).toContain('It was changed on the copy since');
  expect(existsSync(there('Deep House/cover.jpg'))).toBe(true);
  writeFileSync(there('Deep House/cover.jpg'), 'no picture, but a file');
  await h.post('/music-copy/remove', { ids: null }).expect(200);
  const emptied = (await h.post('/music-copy/empty', { ids: null }).expect(200)).body as { files: number };
  expect(emptied).toMatchObject({ files: 3, left: [] });
  expect(await extras('aside')).toEqual([]);
  expect((await h.post('/music-copy/remove', { ids: null })).status).toBe(409);
  expect(filesIn(copy)).toEqual(['Deep House/deep/b.flac', 'Deep House/first.wav', 'd.mp3', 'early-set.sha256']);
});

test('what others put there, or changed there, is left as it is and told', async () => {
  writeFileSync(there('mine.mp3'), 'of somebody else');
  writeFileSync(at('mine.mp3'), 'of this library');
  appendFileSync(there('d.mp3'), 'changed there');
  makeAudio(at('d.mp3'), { seconds: 1, hz: 950 });
  touch(at('d.mp3'));
  const { report, failed } = await run();
  expect(failed).toBe(2);
  expect(report.told).toEqual([
    { path: 'music: mine.mp3', reason: 'Another file has this place on the copy; it is left as it is' },
    { path: 'music: d.mp3', reason: 'It was changed on the copy since; it is left as it is' },
  ]);
  expect(readFileSync(there('mine.mp3'), 'utf8')).toBe('of somebody else');
  // The same bytes, however they came there, count as copied.
  writeFileSync(there('mine.mp3'), 'of this library');
  rmSync(there('d.mp3'));
  expect(await came()).toMatchObject({ same: 3, copied: 1, failed: 0 });
});

test('a copy that reads otherwise is found by checking, and copied anew; what lay there is set aside', async () => {
  const bytes = readFileSync(there('Deep House/first.wav'));
  bytes[bytes.length - 100]! ^= 1;
  const { atime, mtime } = statSync(there('Deep House/first.wav'));
  writeFileSync(there('Deep House/first.wav'), bytes);
  utimesSync(there('Deep House/first.wav'), atime, mtime);
  expect(await came()).toMatchObject({ same: 4, failed: 0 }); // nobody looks into it
  const { report } = await run('check');
  expect(report.told).toEqual([
    { path: 'music: Deep House/first.wav', reason: 'It reads otherwise than when it was copied' },
  ]);
  expect(await came()).toMatchObject({ replaced: 1, setAside: 1 });
  expect(readFileSync(there('Deep House/first.wav'))).toEqual(readFileSync(at('Deep House/first.wav')));
  expect((await run('check')).report.roots[0]).toMatchObject({ same: 4, failed: 0 });
});

test('a drive that is away, or a folder that is empty here, changes nothing', async () => {
  renameSync(h.music, `${h.music} away`);
  mkdirSync(h.music);
  const { report, state } = await run();
  expect(report.roots[0]!.trouble).toMatch(/not there|empty/);
  expect(state).toBe('failed');
  expect(await extras('gone')).toEqual([]);
  rmSync(h.music, { recursive: true });
  renameSync(`${h.music} away`, h.music);

  renameSync(drive, `${drive} away`);
  expect((await here()).trouble).toMatch(/not there/);
  expect((await h.post('/music-copy/run', { what: 'copy' })).status).toBe(409);
  await copyDaily(undefined as never); // begins nothing
  renameSync(`${drive} away`, drive);
});

test('a library that knows nothing of it goes on with a copy by its list, quarantine too', async () => {
  const [aside] = await extras('aside');
  await h.query('DELETE FROM copied_files');
  const before = statSync(there('d.mp3')).ino;
  expect(await came()).toMatchObject({ same: 4, copied: 0, failed: 0 });
  expect(statSync(there('d.mp3')).ino).toBe(before);
  expect(await extras('aside')).toEqual([
    expect.objectContaining({ id: aside!.id, path: 'first.wav', size: aside!.size }),
  ]);
});

test('killed between a file and what is noted of it, it goes on', async () => {
  await h.query("DELETE FROM copied_files WHERE path = 'd.mp3'");
  const [aside] = await h.query<{ id: string }>(
    "UPDATE copied_files SET state = 'aside' WHERE path = 'Deep House/first.wav' RETURNING id",
  );
  expect(await came()).toMatchObject({ same: 3, copied: 1, failed: 0 });
  expect(existsSync(there('.early-set-quarantine', aside!.id, 'first.wav'))).toBe(true);
});

test('a folder that is left out is not copied; another place begins anew', async () => {
  const { rootId } = (await here()).roots[0]!;
  await h.patch('/music-copy/settings', { leftOut: [rootId], daily: false }).expect(200);
  expect((await run()).report.roots).toEqual([]);
  mkdirSync(join(h.folder, 'third'));
  await h.patch('/music-copy/settings', { folder: join(h.folder, 'third'), leftOut: [] }).expect(200);
  expect((await here()).roots[0]).toMatchObject({ files: 0, left: false });
  expect(await came()).toMatchObject({ copied: 4, same: 0 });
});

test('a library folder that holds the copy is not copied into it', async () => {
  await h.takeIn(join(h.folder, 'third'), false);
  const { report } = await run();
  expect(report.roots.map(({ label, trouble }) => [label, trouble])).toEqual([
    ['music', null],
    ['third', expect.stringContaining('third and its copy lie in each other')],
  ]);
  const { rootId } = (await here()).roots[1]!;
  await h.patch('/music-copy/settings', { leftOut: [rootId] }).expect(200);
  expect((await run()).state).toBe('done');
});

testOnDrive('a drive that is too small is said before anything is copied; it fills up by nothing', async () => {
  const small = join(h.folder, 'small');
  mkdirSync(small);
  chmodSync(small, 0o777);
  mountSmall(small, '64k');
  try {
    await h.patch('/music-copy/settings', { folder: small }).expect(200);
    const { report } = await run();
    expect(report.roots[0]!.trouble).toMatch(/not enough room for the copy of music/);
    expect(filesIn(join(small, 'Early Set music copy'))).toEqual([]);
  } finally {
    unmount(small);
  }
});
