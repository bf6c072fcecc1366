/** An hour for the station: what would be refused is mended, it goes to playout, is played there, and comes back. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { mkdirSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { HourContents, HoursMade } from '@early-set/core/api/hours';
import type { SheetPage, TrackDetails } from '@early-set/core/api/types';
import { offered, play, take } from '../standins/turnstone/stock.ts';
import { readWave, type Wave } from '../standins/turnstone/wave.ts';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
let home: string;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
  home = join(app.folder, 'demo/playout/Station');
  for (const name of ['drop', 'logs', 'played']) mkdirSync(join(home, name), { recursive: true });
});
test.afterAll(() => end?.());

const SLOTS = 4;
/** Of the day after tomorrow, at a full hour. */
const begins = (): Date => {
  const now = new Date();
  return new Date(now.getFullYear(), now.getMonth(), now.getDate() + 2, 19);
};
const draft = (page: Page) => page.getByRole('region', { name: 'Draft' });
const written = async (page: Page): Promise<void> => {
  await draft(page).getByRole('button', { name: 'Write to Station' }).click();
  await expect(draft(page).getByText('Station is up to date')).toBeVisible({ timeout: 120_000 });
};
/** As ffprobe says: codec, rate, seconds. */
const probed = (path: string): [codec: string, hertz: string, seconds: number] => {
  const args = ['-v', 'error', '-show_entries', 'stream=codec_name,sample_rate,duration', '-of', 'csv=p=0', path];
  const [codec, hertz, seconds] = spawnSync('ffprobe', args, { encoding: 'utf8' }).stdout.trim().split(',');
  return [codec!, hertz!, Number(seconds)];
};
const itemsIn = (): string[] => readdirSync(join(home, 'drop')).filter((n) => n.endsWith('.wav'));

/** An hour of some tracks, the first of which has no intro end. */
async function makeHour(): Promise<number[]> {
  const items = Array.from({ length: SLOTS }, (_, i) => ({ item: 'track', name: `Slot ${i + 1}` }));
  const clock = { version: 1, name: 'Evening', items: [{ item: 'spoken', name: 'News', seconds: 60 }, ...items] };
  const { listId } = await app.post<{ listId: string }>('/clocks', { clock: { ...clock, rules: [] }, times: [] });
  const from = begins().getTime() / 1000;
  const { listIds } = await app.post<HoursMade>('/hours', { clockId: listId, from, hours: 1 });
  const { lines } = await app.get<HourContents>(`/hours/${listIds[0]!}`);
  const trackIds = lines.filter((l) => l.kind === 'track').map((l) => l.trackId!);
  const { rows } = await app.get<SheetPage>('/tracks?limit=200');
  for (const [i, id] of trackIds.entries()) {
    const { values } = rows.find((r) => r.id === id)!;
    const edit = { selection: { ids: [id] }, field: 'introEndSeconds' };
    if (i === 0) await app.post('/fields', { ...edit, value: null });
    else if (typeof values.introEndSeconds !== 'number') await app.post('/fields', { ...edit, value: 5 });
  }
  return trackIds;
}

test('an hour to playout, and back what was on air', async ({ page }) => {
  const errors = watchErrors(page);
  const trackIds = await makeHour();
  expect(trackIds).toHaveLength(SLOTS);

  await page.goto(`${app.address}/handover`);
  await page.getByRole('button', { name: 'Add a destination…' }).first().click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('radio', { name: 'A playout system' }).click();
  await expect(dialog.getByLabel('System')).toHaveValue('turnstone');
  const path = dialog.getByLabel('Path; Enter goes there');
  await path.fill(home);
  await path.press('Enter');
  await expect(path).toHaveValue(home);
  await dialog.getByRole('button', { name: 'Write to this folder' }).click();
  await expect(page.getByRole('heading', { name: 'Station', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Choose what goes there…' }).click();
  await dialog.getByRole('checkbox', { name: / 19:00/ }).check();
  await dialog.getByRole('button', { name: 'Save' }).click();

  // One would be refused: the way to mend it leads to its sound, and back from there it goes.
  await expect(page.locator('[data-file]')).toHaveCount(SLOTS - 1);
  await expect(page.getByTestId('list-refused')).toContainText('1 track of this list would be refused');
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.help}`)).toEqual([]);
  const takes = page.getByRole('region', { name: 'What it takes' });
  await expect(takes).toContainText('1: It has no intro end');
  await takes.getByRole('button', { name: 'Show…' }).click();
  await dialog.getByRole('link', { name: 'Open its sound' }).click();
  await page.getByTestId('lanes').click({ position: { x: 120, y: 120 } });
  const point = page.getByRole('region', { name: 'Playout points' }).locator('li', { hasText: 'Intro end' });
  await point.getByRole('button', { name: 'here' }).click();
  const mended = await settled(
    () => app.get<TrackDetails>(`/tracks/${trackIds[0]!}`),
    (t) => typeof t.values.introEndSeconds === 'number',
  );
  await page.goto(`${app.address}/handover`);
  await page.getByRole('link', { name: /^Station/ }).click();
  await expect(page.locator('[data-file]')).toHaveCount(SLOTS);
  await written(page);

  // The system takes all of it; others read the same in it as it does.
  expect(offered(home)).toMatchObject({ refused: [], items: { length: SLOTS } });
  expect(take(home).taken).toHaveLength(SLOTS);
  const { rows } = await app.get<SheetPage>('/tracks?limit=200');
  for (const name of itemsIn()) {
    const wave = readWave(join(home, 'drop', name)) as Wave;
    const { values } = rows.find((r) => String(r.values.playoutId).padStart(6, '0') === name.slice(0, 6))!;
    const [codec, hertz, seconds] = probed(join(home, 'drop', name));
    expect([codec, hertz, wave.hertz]).toEqual(['pcm_s16le', '48000', 48_000]);
    expect(seconds).toBeCloseTo(wave.samples / 48_000, 3);
    expect(seconds).toBeCloseTo(Number(values.durationSeconds), 0);
    expect(wave.cart!.id).toBe(name.slice(0, 6));
    expect(wave.cart!.timers.INTe! / 48_000).toBeCloseTo(Number(values.introEndSeconds), 3);
    expect(wave.cart!.timers.SEGs! / 48_000).toBeCloseTo(Number(values.segueSeconds), 3);
    expect(Math.abs(wave.bext!.lufs + 23)).toBeLessThanOrEqual(0.1);
  }
  expect(rows.find((r) => r.id === trackIds[0])!.values.introEndSeconds).toBe(mended.values.introEndSeconds);

  // It is played there, and what was on air counts here.
  const [log] = readdirSync(join(home, 'logs'));
  expect(play(home, log!)).toEqual({ played: SLOTS, refused: [] });
  await page.getByRole('button', { name: 'Refresh' }).click();
  await expect(page.getByText('1 day to read')).toBeVisible();
  await page.getByRole('button', { name: 'Read what was played' }).click();
  await expect(dialog).toContainText(`${SLOTS} tracks counted as played`);
  await dialog.getByRole('link', { name: 'Open Airplay' }).click();
  await expect(page.getByRole('heading', { name: 'Airplay' })).toBeVisible();
  const played = await app.get<TrackDetails>(`/tracks/${trackIds[1]!}`);
  expect(played.values.timesUsed).toBe(1);

  // Taken back, playing first: nothing of ours is left there, and what the system made itself is.
  await page.keyboard.press('Control+z');
  await settled(
    () => app.get<TrackDetails>(`/tracks/${trackIds[1]!}`),
    (t) => t.values.timesUsed !== 1,
  );
  await page.keyboard.press('Control+z');
  await settled(
    () => Promise.resolve(itemsIn()),
    (items) => items.length === 0,
  );
  expect(statSync(join(home, 'stock/catalogue.csv')).isFile()).toBe(true);
  expect(errors).toEqual([]);
});
