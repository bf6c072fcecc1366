/** The other commands: one more worker, a new data folder. */
import { expect, test } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Overview, SheetPage } from '@early-set/core/api/types';
import { freshFolder, settled, startApp, withDemo } from './app.ts';

const SCRIPTS = join(import.meta.dirname, '../scripts');

interface Script {
  process: ChildProcess;
  said: () => string;
  ended: Promise<number | null>;
  hears: (words: string) => Promise<void>;
}

/** Starts one of the scripts on a data folder; `input` is what is typed at it. */
function script(name: string, folder: string, input = ''): Script {
  const child = spawn(process.execPath, [join(SCRIPTS, name)], {
    env: { ...process.env, EARLY_SET_DATA: folder, EARLY_SET_LOG: 'silent' },
    stdio: ['pipe', 'pipe', 'pipe'],
  });
  let text = '';
  child.stdout.on('data', (chunk: Buffer) => {
    text += chunk.toString();
  });
  child.stderr.on('data', (chunk: Buffer) => {
    text += chunk.toString();
  });
  child.stdin.end(input);
  const ended = new Promise<number | null>((resolve) => {
    child.once('close', resolve);
  });
  return {
    process: child,
    said: () => text,
    ended,
    hears: (words) =>
      settled(
        async () => text,
        (t) => t.includes(words),
      ).then(() => undefined),
  };
}

test('one more worker takes its share; killed in the middle, its tracks are measured by the others', async () => {
  test.setTimeout(300_000);
  const { folder, remove } = freshFolder('worker');
  const lonely = script('worker.mjs', folder);
  expect(await lonely.ended).toBe(1);
  expect(lonely.said()).toContain('There is no database yet. Start Early Set first: npm start');

  withDemo(folder);
  const app = await startApp(folder, ['--demo', '--only=30']);
  const killed = script('worker.mjs', folder);
  const second = script('worker.mjs', folder);
  await Promise.all([killed.hears('takes its share'), second.hears('takes its share')]);
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.measured >= 4,
  );
  killed.process.kill('SIGKILL');
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.tracks >= 30 && o.measured === o.tracks,
    200_000,
  );
  const { rows, total } = await app.get<SheetPage>('/tracks?limit=500');
  expect(new Set(rows.map((r) => r.values.path)).size).toBe(total);
  second.process.kill('SIGINT');
  expect(await second.ended).toBe(0);
  expect(Number(/It measured (\d+) tracks/.exec(second.said())?.[1])).toBeGreaterThan(0);
  await app.stop();
  remove();
});

test('reset asks, deletes only on yes and never under a running server; the next start is new', async () => {
  const { folder, remove } = freshFolder('reset');
  withDemo(folder);
  let app = await startApp(folder, ['--demo', '--only=30']);
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.tracks >= 30,
  );
  const early = script('reset.mjs', folder, 'yes\n');
  expect(await early.ended).toBe(1);
  expect(early.said()).toContain(`Early Set is running at ${app.address}`);
  await app.stop();
  for (const answer of ['no\n', '']) {
    const refused = script('reset.mjs', folder, answer);
    expect(await refused.ended).toBe(0);
    expect(refused.said()).toContain('Nothing was deleted');
  }
  expect(existsSync(join(folder, 'demo/truth.json'))).toBe(true);
  const done = script('reset.mjs', folder, 'yes\n');
  expect(await done.ended).toBe(0);
  expect(existsSync(folder)).toBe(false);
  app = await startApp(folder);
  expect((await app.get<Overview>('/overview')).tracks).toBe(0);
  await app.stop();
  remove();
});
