/**
 * The benchmarks that need a database still run: small, and only that they come to their end with a figure in every
 * cell.
 */
import { expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { bundle } from '../scripts/lib/build.mjs';

const OUT = join(process.cwd(), 'dist/test/bench');

function run(name: string, env: Record<string, string>): string[] {
  const done = spawnSync(process.execPath, [join(OUT, `${name}.mjs`)], {
    encoding: 'utf8',
    env: {
      ...process.env,
      BENCH_DATABASE_URL: process.env.EARLY_SET_TEST_DATABASE_URL!,
      BENCH_FILE_THREAD: join(process.cwd(), 'dist/server/fileThread.mjs'),
      ...env,
    },
  });
  if (done.status !== 0) throw new Error(done.stderr);
  return done.stdout.trim().split('\n');
}

test('mirrors', async () => {
  await bundle({ mirrors: 'benchmarks/mirrors.ts' }, OUT);
  const mirrors = run('mirrors', { BENCH_TRACKS: '400', BENCH_FOLDERS: '140' });
  expect(mirrors[0]).toBe('400 tracks in 140 folders, 5 rounds; goal: under 3 s');
  expect(mirrors.slice(4)).toHaveLength(4);
  for (const line of mirrors.slice(4)) expect(line).toMatch(/( +\d+ ms){3}$/);
});

test('intake and crates', async () => {
  await bundle({ intake: 'benchmarks/intake.ts', crates: 'benchmarks/crates.ts' }, OUT);
  const crates = run('crates', { BENCH_TRACKS: '400' });
  expect(crates[0]).toMatch(/^100 self-filling crates over 400 tracks: filled for the first time in [\d.]+ s; [1-9]/);
  expect(crates.slice(4)).toHaveLength(5);
  const intake = run('intake', { BENCH_FILES: '40', BENCH_KNOWN: '300' });
  expect(intake[0]).toBe('Intake of 40 files, and 300 that are known');
  expect(intake[4]).toMatch(/^first scan +40 +40 +[\d.]+ s +\d+ files\/s$/);
  expect(intake[5]).toMatch(/^scanning again +40 +0 /);
  for (const line of intake.slice(6)) expect(line).toMatch(/^scanning many again +300 +0 +[\d.]+ s +\d+ files\/s$/);
  expect(intake).toHaveLength(8);
});

test('the sheet, with a desk in a process of its own, at two sizes', async () => {
  await bundle({ sheet: 'benchmarks/sheet.ts', desk: 'benchmarks/sheet/desk.ts' }, OUT);
  const sheet = run('sheet', { BENCH_TRACKS: '400,800', BENCH_THREADS: join(process.cwd(), 'dist/server') });
  expect(sheet[0]).toBe('400, 800 tracks, warm, 25 runs each; ms, middle / 95 %');
  const figures = sheet.slice(4, sheet.indexOf('', 4));
  expect(figures).toHaveLength(21);
  for (const line of figures) expect(line).toMatch(/( +\d+ \/ \d+){2} +\d+\.\d×$/);
  const once = sheet.slice(sheet.indexOf('', 4) + 3);
  expect(once).toHaveLength(4);
  for (const line of once) expect(line).toMatch(/( +[\d.]+ (s|ms|MB)){2}$/);
}, 120_000);
