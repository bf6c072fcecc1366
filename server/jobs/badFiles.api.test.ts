/**
 * Bad files (a hundred; three hundred in `npm run test:long`) through intake and measuring, and through the command
 * line: a result or a reason for each.
 */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';
import type { NotTaken, Overview } from '@early-set/core/api/types';
import { makeBadFiles } from '../testing/badFiles.ts';
import { startHarness, type Harness } from '../testing/harness.ts';

const FILES = Number(process.env.EARLY_SET_BAD_FILES ?? 100);
let h: Harness;
let names: string[];
beforeAll(async () => {
  h = await startHarness({ threads: 2 });
  names = makeBadFiles(h.music, FILES);
});
afterAll(() => h?.stop());

interface Row {
  path: string;
  state: string;
  reason: string | null;
  bpm: number | null;
  lufs: number | null;
  seconds: number | null;
}

test('taken in and measured: every file is measured, or has a reason; the rest goes on', async () => {
  expect(names).toHaveLength(FILES);
  const rootId = await h
    .takeIn(h.music, true)
    .catch(async () => (await h.query<{ id: number }>('SELECT id FROM roots'))[0]!.id);
  for (let rounds = 0; rounds < 8; rounds++) {
    const waits = async (): Promise<boolean> =>
      Number(
        (
          await h.query<{ n: unknown }>(
            "SELECT count(*) AS n FROM tracks WHERE analysis_state IN ('none', 'waiting', 'running')",
          )
        )[0]!.n,
      ) === 0;
    if (
      await h.until(waits, 'all is measured').then(
        () => true,
        () => false,
      )
    )
      break;
  }
  const rows = await h.query<Row>(
    `SELECT path, analysis_state AS state, analysis_reason AS reason, bpm, lufs, duration_seconds AS seconds
      FROM tracks`,
  );
  const { body } = await h.get(`/roots/${rootId}/not-taken`).expect(200);
  const refused = body as NotTaken[];
  const seen = new Set([...rows.map((r) => r.path), ...refused.map((r) => r.path)]);
  expect(names.filter((n) => !seen.has(n))).toEqual([]);
  expect(rows.filter((r) => r.state !== 'done' && r.state !== 'failed')).toEqual([]);
  expect(
    [...rows.filter((r) => r.state === 'failed').map((r) => r.reason), ...refused.map((r) => r.reason)].filter(
      (reason) => !reason || reason.length < 12,
    ),
  ).toEqual([]);
  const byName = new Map(rows.map((r) => [r.path, r]));
  for (const odd of [
    'eight kilohertz.wav',
    'hundred and ninety-two.flac',
    'six channels.flac',
    'two seconds.mp3',
    'silence.flac',
    'three hours.flac',
  ])
    expect(byName.get(odd)).toMatchObject({ state: 'done' });
  expect(byName.get('silence.flac')).toMatchObject({ bpm: null, lufs: null });
  expect(Number(byName.get('three hours.flac')!.seconds)).toBeCloseTo(10_800, 0);
  expect(((await h.get('/overview').expect(200)).body as Overview).tracks).toBe(rows.length);
}, 420_000);

test('the command line prints a line for each, and ends well', () => {
  const files = names.filter((n) => n !== 'three hours.flac').map((n) => join(h.music, n));
  const done = spawnSync(process.execPath, [join(process.cwd(), 'bin/early-set'), 'analyse', '--jsonl', ...files], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  expect(done.status).toBe(0);
  const lines = done.stdout
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { file: string; ok: boolean; error?: string; durationSeconds?: number });
  expect(lines.map((l) => l.file)).toEqual(files);
  for (const line of lines) {
    if (line.ok) expect(line.durationSeconds).toBeGreaterThanOrEqual(0);
    else expect(line.error!.length).toBeGreaterThan(12);
  }
}, 420_000);
