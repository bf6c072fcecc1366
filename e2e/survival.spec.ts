import { expect, test } from '@playwright/test';
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Overview } from '@early-set/core/api/types';
import { demoMusic, freshFolder, settled, startApp, withDemo } from './app.ts';

test('Ctrl-C stops everything it started, and a second start on the same data is refused with its address', async () => {
  const { folder, remove } = freshFolder('stop');
  const app = await startApp(folder);
  await expect(startApp(folder)).rejects.toThrow(`Early Set is running already: ${app.address}`);
  await app.stop();
  const left = execFileSync('ps', ['-eo', 'args'], { encoding: 'utf8' })
    .split('\n')
    .filter((l) => l.includes(folder));
  expect(left).toEqual([]);
  expect(existsSync(join(folder, 'server.pid'))).toBe(false);
  remove();
});

/** Processes of the database of a data folder: its first one, and those that serve connections. */
function databaseOf(folder: string): { main: number; backends: number[] } {
  const all = execFileSync('ps', ['-eo', 'pid,ppid,args'], { encoding: 'utf8' })
    .trim()
    .split('\n')
    .map((l) => /^\s*(\d+)\s+(\d+)\s+(.*)$/.exec(l))
    .flatMap((m) => (m ? [{ pid: Number(m[1]), parent: Number(m[2]), args: m[3]! }] : []));
  const main = all.find((p) => p.args.includes('postgres') && p.args.includes(`-D ${folder}/`))!.pid;
  return { main, backends: all.filter((p) => p.parent === main && p.args.includes(': app ')).map((p) => p.pid) };
}

test('the database is killed while tracks are measured: the server waits, says so, and goes on', async ({ page }) => {
  test.setTimeout(300_000);
  const { folder, remove } = freshFolder('database');
  withDemo(folder);
  const app = await startApp(folder, ['--demo', '--only=6']);
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.measured >= 2,
  );
  await page.goto(`${app.address}/tracks`);
  await expect(page.locator('[data-track]').first()).toBeVisible();
  // One connection's process: PostgreSQL ends all others and starts anew by itself.
  process.kill(databaseOf(folder).backends[0]!, 'SIGKILL');
  await settled(
    () => app.get<Overview>('/overview').catch(() => null),
    (o) => o !== null,
  );
  // All of it at once: it is started again.
  const { main } = databaseOf(folder);
  process.kill(main, 'SIGKILL');
  const refused = await fetch(`${app.address}/api/overview`);
  expect([200, 503]).toContain(refused.status);
  if (refused.status === 503)
    expect(await refused.json()).toMatchObject({
      error: { code: 'no-database', message: /The database is not there/ },
    });
  const after = await settled(
    () => app.get<Overview>('/overview').catch(() => null),
    (o) => o !== null && o.measured === o.tracks && o.tracks >= 6,
    240_000,
  );
  expect(after!.measured).toBe(after!.tracks);
  expect(databaseOf(folder).main).not.toBe(main);
  expect(app.process.exitCode).toBeNull();
  // What happened meanwhile is heard by the page again.
  await app.post('/lists', { kind: 'crate', name: 'After the storm', parentId: null });
  await page.goto(`${app.address}/arrange`);
  await expect(page.getByRole('heading', { name: 'After the storm' })).toBeVisible();
  await app.stop();
  remove();
});

test('the page of an empty library says what to do first, and a folder can be chosen', async ({ page }) => {
  const { folder, remove } = freshFolder('empty');
  withDemo(folder);
  const app = await startApp(folder, [], { EARLY_SET_PLACES: join(folder, 'demo') });
  await page.goto(app.address);
  await page.getByRole('button', { name: 'Choose a folder' }).click();
  await expect(page).toHaveURL(/intake/);
  await page.getByRole('button', { name: 'Choose a folder' }).first().click();
  await page.getByRole('list', { name: 'Places' }).getByRole('button', { name: 'demo', exact: true }).click();
  await page.getByRole('list', { name: 'Folders inside' }).getByRole('button', { name: 'music' }).click();
  await page.getByLabel('Measure tempo, key and loudness straight away').uncheck();
  await page.getByRole('button', { name: 'Take in this folder' }).click();
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.tracks >= 30,
  );
  await expect(page.getByText('The file is empty (zero bytes)')).toBeVisible();
  expect((await app.get<Overview>('/overview')).measured).toBe(0);
  await app.stop();
  remove();
});

test('the command line measures in order, names what is broken, and needs no database', () => {
  const music = join(demoMusic(), 'music');
  const truth = JSON.parse(readFileSync(join(music, '../truth.json'), 'utf8')) as {
    path: string;
    key: string;
    bpm: number | null;
    style: string;
    lufs: number;
  }[];
  const house = truth.filter((t) => t.style === 'house').slice(0, 3);
  const files = [
    ...house.map((t) => join(music, t.path)),
    join(music, 'Inbox/broken_transfer.flac'),
    join(music, 'nowhere.mp3'),
    music,
    join(music, 'Inbox/empty download.mp3'),
  ];
  const out = execFileSync(
    process.execPath,
    [join(import.meta.dirname, '../bin/early-set'), 'measure', ...files, '--jsonl', '--beats'],
    { encoding: 'utf8', env: { ...process.env, EARLY_SET_DATABASE_URL: '' } },
  );
  const lines = out
    .trim()
    .split('\n')
    .map((l) => JSON.parse(l) as Record<string, unknown>);
  expect(lines.map((l) => l.file)).toEqual(files);
  for (const [i, t] of house.entries()) {
    expect(lines[i]).toMatchObject({ ok: true, tempoSteady: true, channels: 2 });
    expect(Math.abs(Number(lines[i]!.bpm) - t.bpm!)).toBeLessThan(0.05);
    expect(Math.abs(Number(lines[i]!.lufs) - t.lufs)).toBeLessThan(1);
    expect((lines[i]!.beats as number[]).length).toBeGreaterThan(60);
  }
  for (const line of lines.slice(3))
    expect(line).toEqual({ file: line.file, ok: false, error: expect.stringMatching(/\w{3}/) });
});
