/**
 * Three computers: one with the library and no screen, one with a browser, one that helps to measure. It has one of the
 * library's folders under another path, and the other one not at all.
 */
import { chromium, expect, test, type Page } from '@playwright/test';
import { spawn, spawnSync, type ChildProcess } from 'node:child_process';
import { cpSync, mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { RunProgress } from '@early-set/core/api/types';
import { demoMusic, freshFolder, settled, startApp, type App } from './app.ts';
import { browserOn, on, threeComputers } from './network.ts';
import playwright from './playwright.config.ts';

const ROOT = join(import.meta.dirname, '..');
const PHRASE = 'kelp tide harbour lamp';
const { folder, remove } = freshFolder('elsewhere');
const [house, lent, far] = ['House', 'lent', 'Far drive'].map((name) => join(folder, name)) as [string, string, string];
const network = threeComputers('es-library', 'es-browser', 'es-worker');
let app: App | undefined;
test.afterAll(async () => {
  await app?.stop();
  network?.remove();
  remove();
});

/** A worker on its computer. */
function help(joinFile: string): { said: () => string; process: ChildProcess; ended: Promise<number | null> } {
  const args = ['--join', joinFile, '--map', `${house}=${lent}`, '--map', `${far}=/nowhere`];
  const [program, ...words] = [...on('es-worker'), process.execPath, join(ROOT, 'scripts/worker.mjs'), ...args];
  const child = spawn(program!, words, {
    ...{ cwd: ROOT, env: { ...process.env, EARLY_SET_DATA: join(folder, 'of the worker'), EARLY_SET_LOG: 'warn' } },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let text = '';
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk: Buffer) => (text += chunk.toString()));
  const ended = new Promise<number | null>((resolve) => child.once('exit', resolve));
  return { said: () => text, process: child, ended };
}

/** What somebody on a computer hears who tries the database. */
function tried(computer: string, host: string, port: number, user: string, tls: boolean): string {
  const code = `const pg = (await import('pg')).default;
    const client = new pg.Client({ host: '${host}', port: ${port}, user: '${user}', password: 'x', database: 'postgres',
      ssl: ${tls ? '{ rejectUnauthorized: false }' : 'false'}, connectionTimeoutMillis: 3000 });
    await client.connect().then(() => console.log('in'), (error) => console.log(error.code ?? error.message));
    process.exit(0);`;
  const [program, ...words] = [...on(computer), process.execPath, '--input-type=module', '-e', code];
  return spawnSync(program!, words, { cwd: ROOT, encoding: 'utf8' }).stdout.trim();
}

const ask = <T>(page: Page, path: string, body?: object): Promise<T> =>
  page.evaluate(
    async ([at, sent]) => {
      const init = sent ? { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: sent } : {};
      const response = await fetch(`/api${at}`, init);
      if (!response.ok) throw new Error(await response.text());
      return (await response.json()) as unknown;
    },
    [path, body ? JSON.stringify(body) : ''] as const,
  ) as Promise<T>;

test('a browser on one computer, the library on another, a worker on a third', async () => {
  test.skip(network === null, 'network namespaces cannot be made here');
  const [forBrowsers, forWorkers] = network!.addresses;
  for (const path of [house, far, join(folder, 'of the worker')]) mkdirSync(path, { mode: 0o755 });
  cpSync(join(demoMusic(), 'music/Crates/House'), house, { recursive: true });
  cpSync(join(demoMusic(), 'music/Inbox'), far, { recursive: true });
  const set = spawnSync(process.execPath, [join(ROOT, 'scripts/passphrase.mjs')], {
    ...{ cwd: ROOT, env: { ...process.env, EARLY_SET_DATA: folder }, input: PHRASE },
  });
  expect(set.status).toBe(0);
  const env = { EARLY_SET_PLACES: folder, EARLY_SET_DATABASE_LISTEN: forWorkers };
  app = await startApp(folder, ['--listen', forBrowsers, '--without-tls'], env, on('es-library'));

  const browser = await chromium.launch({
    ...playwright.use!.launchOptions,
    executablePath: browserOn('es-browser', join(folder, 'browser.sh')),
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(app.address);
  await page.getByLabel('Passphrase').fill(PHRASE);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await expect(page.getByRole('navigation').getByText('Tracks')).toBeVisible();

  // Nobody else gets to the database: not by the other cable, not as anybody else, not without TLS.
  const joinFile = join(folder, 'worker.json');
  const { port } = JSON.parse(readFileSync(joinFile, 'utf8')) as { port: number };
  expect(tried('es-browser', forBrowsers, port, 'early_set_worker', true)).toBe('ECONNREFUSED');
  expect(tried('es-worker', forWorkers, port, 'app', true)).toBe('28000'); // no entry for it
  expect(tried('es-worker', forWorkers, port, 'early_set_worker', false)).toBe('28000');
  expect(tried('es-worker', forWorkers, port, 'early_set_worker', true)).toBe('28P01'); // the password

  // Another certificate is another database.
  const forged = join(folder, 'forged.json');
  const written = JSON.parse(readFileSync(joinFile, 'utf8')) as object;
  const own = spawnSync('openssl', [
    ...[
      'req',
      '-x509',
      '-newkey',
      'ec',
      '-pkeyopt',
      'ec_paramgen_curve:prime256v1',
      '-nodes',
      '-subj',
      '/CN=early-set',
    ],
    ...['-keyout', '/dev/null'],
  ]).stdout.toString();
  writeFileSync(forged, JSON.stringify({ ...written, certificate: own }));
  const refused = help(forged);
  expect(await refused.ended).toBe(1);
  expect(refused.said()).toContain('does not let this worker in');

  // The worker has the one folder under another path.
  cpSync(house, lent, { recursive: true });
  for (const path of [house, far]) await ask(page, '/roots', { path, measure: false });
  const runs = (): Promise<RunProgress[]> => ask(page, '/runs');
  await settled(runs, (all) => all.length === 2 && all.every(({ state }) => state === 'done'));
  const worker = help(joinFile);
  await expect.poll(worker.said).toContain(`Far drive is not here (/nowhere): its tracks are left to others.`);
  const everything = { selection: { where: { all: [] }, except: [] } };
  const { runId } = await ask<{ runId: number }>(page, '/analysis', everything);
  await page.getByRole('button', { name: 'Settings' }).click();
  const list = page.getByRole('list', { name: 'Workers on other computers' });
  await expect(list).toContainText('Not there: Far drive. Tracks there are measured by others.');
  await page.getByRole('button', { name: 'Done' }).click();
  const [run] = await settled(
    () => runs().then((all) => all.filter(({ id }) => id === runId)),
    ([one]) => one?.state === 'done',
  );
  expect(run).toMatchObject({ failed: 0, done: run!.total });
  expect(run!.total).toBeGreaterThan(15);
  expect(worker.said()).not.toContain('"level"'); // nothing to complain of
  worker.process.kill('SIGINT');
  expect(await worker.ended).toBe(0);
  const measured = Number(/It measured (\d+) tracks/.exec(worker.said())![1]);
  expect(measured).toBeGreaterThan(0);
  await page.getByRole('button', { name: 'Settings' }).click();
  await expect(page.getByText('Where edits go')).toBeVisible();
  await expect(list).toHaveCount(0);
  await browser.close();

  // Without the address nobody helps any more.
  const kept = join(folder, 'kept.json');
  renameSync(joinFile, kept);
  await app.stop();
  app = await startApp(folder, [], {}, on('es-library'));
  const late = help(kept);
  expect(await late.ended).toBe(1);
  expect(late.said()).toMatch(/does not let this worker in. Is Early Set running there/);
});
