/** Whole servers and workers killed in the middle of their work; takes minutes, so it is part of npm run test:long. */
import { expect, test } from '@playwright/test';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { Overview, RunProgress, SheetPage } from '@early-set/core/api/types';
import { freshFolder, settled, startApp, withDemo } from '../app.ts';
import { script } from '../script.ts';

test('kill -9 in the middle of intake and of measuring: nothing is lost, nothing is double', async () => {
  test.setTimeout(400_000);
  const { folder, remove } = freshFolder('kill');
  withDemo(folder);
  let app = await startApp(folder, ['--demo', '--only=30']);
  // First kill as soon as anything is in, the second in the middle of measuring.
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.tracks >= 1,
  );
  await app.kill();
  app = await startApp(folder, ['--demo', '--only=30']);
  const middle = await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.measured >= 3 && o.measured < o.tracks,
  );
  await app.kill();
  app = await startApp(folder, ['--demo', '--only=30']);
  const after = await app.get<Overview>('/overview');
  expect(after.measured).toBeGreaterThanOrEqual(middle.measured);
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.tracks >= 30 && o.measured === o.tracks,
    300_000,
  );
  await settled(
    () => app.get<RunProgress[]>('/runs'),
    (runs) => runs.every((r) => r.state !== 'running'),
  );
  const { rows, total } = await app.get<SheetPage>('/tracks?limit=500');
  const paths = rows.map((r) => String(r.values.path));
  expect(new Set(paths).size).toBe(total);
  for (const path of paths) expect(existsSync(join(app.music, path))).toBe(true);
  for (const run of await app.get<RunProgress[]>('/runs')) expect(run.done + run.failed).toBeLessThanOrEqual(run.total);
  await app.stop();
  remove();
});

test('one more worker takes its share; killed in the middle, its tracks are measured by the others', async () => {
  test.setTimeout(300_000);
  const { folder, remove } = freshFolder('worker');
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
