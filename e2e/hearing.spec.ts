/**
 * A transition heard: tempo-matched, beat on beat, measured in the very sound that is played; nudged while it loops.
 */
import { expect, test, type Page } from '@playwright/test';
import { join } from 'node:path';
import type { ListContents, SheetPage } from '@early-set/core/api/types';
import type { DeskSettings } from '@early-set/core/api/settings';
import { settled, startDemo, watchErrors, type App } from './app.ts';
import { synthesize } from '../server/testing/ffmpeg.ts';

/** Two tracks of clicks; the one is heard on the left only, the other on the right. */
const FIRST = { name: 'Clicks left.wav', bpm: 123.4 },
  SECOND = { name: 'Clicks right.wav', bpm: 126.1 };

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo((music) => {
    clicks(join(music, FIRST.name), FIRST.bpm, (sound) => `${sound}|0`);
    clicks(join(music, SECOND.name), SECOND.bpm, (sound) => `0|${sound}`);
    return 2;
  }));
});
test.afterAll(() => end?.());

/** A click on each beat, louder on the first of four. */
function clicks(path: string, bpm: number, side: (sound: string) => string): void {
  const beat = 60 / bpm;
  const stroke = (period: number, loud: number): string =>
    `${loud}*sin(1400*2*PI*mod(t\\,${period}))*exp(-70*mod(t\\,${period}))`;
  synthesize(path, `aevalsrc=exprs=${side(`${stroke(beat, 0.4)}+${stroke(4 * beat, 0.4)}`)}:d=90:s=44100`);
}

/** Keeps whatever the page plays from memory. */
const listenIn = (page: Page) =>
  page.addInitScript(() => {
    const start = AudioBufferSourceNode.prototype.start;
    AudioBufferSourceNode.prototype.start = function (...args) {
      if (!(this.context instanceof OfflineAudioContext))
        Object.assign(window, { heard: this.buffer, loops: this.loop });
      return start.apply(this, args as []);
    };
  });

/** When strokes begin on each side of what is heard, in seconds. */
const strokesHeard = (page: Page): Promise<number[][]> =>
  page.evaluate(() => {
    const { heard } = window as unknown as { heard: AudioBuffer };
    return [0, 1].map((side) => {
      const samples = heard.getChannelData(side);
      const found: number[] = [];
      const quiet = 0.2 * heard.sampleRate;
      for (let i = 0; i < samples.length; i++) {
        if (Math.abs(samples[i]!) < 0.01) continue;
        let loudest = 0;
        for (let k = i; k < i + 900 && k < samples.length; k++) loudest = Math.max(loudest, Math.abs(samples[k]!));
        let at = i;
        while (Math.abs(samples[at]!) < 0.3 * loudest) at++;
        found.push(at / heard.sampleRate);
        i = at + quiet;
      }
      return found;
    });
  });

/** How far strokes on the right lie from the nearest on the left, where both are heard, in milliseconds. */
function apart([left = [], right = []]: number[][]): number[] {
  return right
    .filter((t) => t >= left[0]! - 0.02 && t <= left.at(-1)! + 0.02)
    .map((t) => Math.min(...left.map((other) => Math.abs(t - other))) * 1000);
}

test('beats of both lie within 10 ms, with key lock and without; nudged by a beat, they do again', async ({ page }) => {
  const errors = watchErrors(page);
  await listenIn(page);
  const { rows } = await app.get<SheetPage>(
    `/tracks?limit=2&where=${encodeURIComponent(JSON.stringify({ test: 'words', text: 'clicks' }))}&sort=title`,
  );
  expect(rows.map((r) => Number(r.values.bpm).toFixed(1))).toEqual(['123.4', '126.1']);
  const { listId } = await app.post<{ listId: string }>('/lists', { kind: 'playlist', name: 'Clicks' });
  for (const { id } of rows) await app.post(`/lists/${listId}/entries`, { selection: { ids: [id] } });
  const now = () => app.get<ListContents>(`/lists/${listId}`);
  const [first] = (await now()).entries;

  await page.goto(`${app.address}/arrange/${listId}`);
  await page.locator('[data-entry]').first().click();
  const panel = page.getByRole('region', { name: 'Transition' });
  await panel.getByLabel('Overlap in bars').fill('8');
  await panel.getByLabel('Overlap in bars').press('Enter');
  await settled(now, (l) => l.entries[0]!.data.overlapBars === 8);
  await expect(page.getByText('8 bars over')).toBeVisible();

  await page.locator('#list-entries').focus();
  await page.keyboard.press('h');
  await expect(panel.getByRole('status')).toContainText('The next is played at −2.1 %, beats 0 ms apart', {
    timeout: 60_000,
  });
  const locked = await strokesHeard(page);
  const beat = 60 / FIRST.bpm;
  const over = (strokes: number[][]): number => (strokes[0]!.at(-1)! - strokes[1]![0]!) / beat;
  expect(apart(locked).length).toBeGreaterThan(24);
  expect(Math.max(...apart(locked))).toBeLessThan(10);
  expect(await page.evaluate(() => (window as unknown as { loops: boolean }).loops)).toBe(true);

  await panel.getByRole('button', { name: 'One beat less' }).click();
  await settled(now, (l) => l.entries[0]!.data.overlapBars === 7.75);
  await expect.poll(async () => over(locked) - over(await strokesHeard(page))).toBeCloseTo(1, 1);
  expect(Math.max(...apart(await strokesHeard(page)))).toBeLessThan(10);

  // Without key lock the speed alone is changed, and the judgement says what that does to the key.
  await panel.getByLabel('Key lock').click();
  await settled(
    () => app.get<DeskSettings>('/settings'),
    (s) => !s.keyLock,
  );
  await expect.poll(async () => Math.max(...apart(await strokesHeard(page)))).toBeLessThan(1);
  await page.getByRole('button', { name: 'Stop' }).first().click();
  await expect(panel.getByRole('button', { name: /^Hear it/ })).toBeVisible();
  await panel.getByRole('button', { name: 'Reset' }).click();
  await settled(now, (l) => l.entries[0]!.entryId === first!.entryId && l.entries[0]!.data.overlapBars === undefined);
  expect(errors).toEqual([]);
});
