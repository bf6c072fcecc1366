/** A run that copies says how many bytes of how many it has copied, also within a file. */
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { statSync } from 'node:fs';
import { join } from 'node:path';
import type { Applied, CopyProgress, FilesRunReport, RunProgress } from '@early-set/core/api/types';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';

let h: Harness;
let rootId: number;
/** Held while it is looked at. */
let atCopied: () => Promise<void> = () => Promise.resolve();
const runs = async (): Promise<RunProgress[]> => (await h.get('/runs')).body as RunProgress[];

beforeAll(async () => {
  h = await startHarness({
    maxBytesAtOnce: 1,
    step: (step) => (step === 'copied' ? atCopied() : undefined),
  });
  for (const [i, name] of ['a.wav', 'b.wav'].entries())
    makeAudio(join(h.music, name), { seconds: 20, hz: 300 + 90 * i });
  rootId = await h.takeIn(h.music, false);
}, 60_000);
afterAll(() => h?.stop());

test('bytes are told while a file is copied, and its own report stands at the end', async () => {
  const sizes = ['a.wav', 'b.wav'].map((name) => statSync(join(h.music, name)).size);
  const ids = (await h.query<{ id: number }>('SELECT id FROM tracks')).map((r) => r.id);
  const seen: CopyProgress[] = [];
  atCopied = async () => {
    atCopied = () => Promise.resolve();
    await h.until(async () => {
      const [run] = (await runs()).filter((r) => r.kind === 'writing' && r.state === 'running');
      const report = run?.report as CopyProgress | null;
      if (report) seen.push(report);
      return report !== null && report !== undefined;
    }, 'it says how far it is');
  };
  const wish = { selection: { ids }, mode: 'copy', into: { rootId, path: 'Copies' }, taken: 'keep both' };
  const applied = (await h.post('/disk/put', wish).expect(200)).body as Applied;
  expect(applied.files).toMatchObject({ written: 0, waiting: 2 });
  const own = async (): Promise<RunProgress> => (await runs()).find((r) => r.id === applied.files!.runId)!;
  await h.until(async () => (await own()).state !== 'running', 'all is copied');
  expect(seen[0]!.toCopy).toBe(sizes[0]! + sizes[1]!);
  expect(seen[0]!.copied).toBeGreaterThan(0);
  expect(seen[0]!.copied).toBeLessThanOrEqual(Math.max(...sizes));
  expect((await own()).report as FilesRunReport).toMatchObject({ written: 2, left: 0 });
});
