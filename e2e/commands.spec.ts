/** The other commands: one more worker, a new data folder. */
import { expect, test } from '@playwright/test';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Overview } from '@early-set/core/api/types';
import { freshFolder, settled, startApp, withDemo } from './app.ts';
import { script } from './script.ts';

test('a worker without a database says what to start first', async () => {
  const { folder, remove } = freshFolder('worker');
  const lonely = script('worker.mjs', folder);
  expect(await lonely.ended).toBe(1);
  expect(lonely.said()).toContain('There is no library here yet. Start Early Set first: npm start');
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
