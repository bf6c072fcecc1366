/** A stick for a gig: laid out, converted, written, changed and written again, taken back; what is there is its own. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ListContents, SheetPage } from '@early-set/core/api/types';
import { readStick, type Stick } from '../standins/oystercatcher/stick.ts';
import { addStick, settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
let home: string;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
  home = join(app.folder, 'demo/sticks/Boat stick');
  mkdirSync(join(home, 'Papers'), { recursive: true });
  writeFileSync(join(home, 'Papers/ferry.txt'), 'last ferry 23:40');
});
test.afterAll(() => end?.());

const there = (): Stick => readStick(home);
const codecOf = (path: string): string =>
  spawnSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=codec_name', '-of', 'csv=p=0', path], {
    encoding: 'utf8',
  }).stdout.split('\n')[0]!;
/** As long as a finger holds a key; what is chosen along with the focus asks whether it is still held. */
const HELD = { delay: 80 };
const draft = (page: Page) => page.getByRole('region', { name: 'Draft' });
const written = async (page: Page): Promise<void> => {
  await draft(page).getByRole('button', { name: 'Write to Boat stick' }).click();
  await expect(draft(page).getByText('Boat stick is up to date')).toBeVisible({ timeout: 120_000 });
  await expect(page.getByTestId('stick-report')).toContainText('Safe to remove');
};

test('Slipway on a stick: with conversions, changed and written again, undone', async ({ page }) => {
  const errors = watchErrors(page);
  const all = (await app.get<SheetPage>('/tracks?sort=title&limit=200')).rows;
  const others = all.filter((r) => !['MP3', 'M4A'].includes(String(r.values.format))).slice(0, 3);
  const songs = [...all.filter((r) => r.values.format === 'MP3' && r.values.title).slice(0, 5), ...others];
  expect(others.length).toBeGreaterThan(0);
  const { listId } = await app.post<{ listId: string }>('/lists', {
    ...{ kind: 'playlist', name: 'Slipway' },
    selection: { ids: songs.map((r) => r.id) },
  });
  const id = await addStick(app, []);

  await page.goto(`${app.address}/handover/stick/${id}`);
  await expect(page.getByRole('heading', { name: 'Nothing goes to Boat stick yet' })).toBeVisible();
  await page.getByRole('button', { name: 'Choose what goes there…' }).click();
  await page.getByRole('dialog').getByLabel('Slipway').check();
  await page.getByRole('dialog').getByRole('button', { name: 'Save' }).click();
  await expect(page.locator('[data-file]')).toHaveCount(songs.length);
  await expect(page.getByText(/ to AAC 256$/).first()).toBeVisible();
  await expect(draft(page)).toContainText('1 file of others untouched');
  expect((await new AxeBuilder({ page }).analyze()).violations.map((v) => `${v.id}: ${v.help}`)).toEqual([]);

  await written(page);
  expect(there().refused).toEqual([]);
  const names = (): string[] =>
    there()
      .folders.find((f) => f.folder === 'Slipway')!
      .shows.map((s) => s.file);
  expect(names()).toHaveLength(songs.length);
  for (const name of names()) expect(codecOf(join(home, name))).toBe(name.endsWith('.m4a') ? 'aac' : 'mp3');
  expect(there().lists.map((l) => [l.file, l.entries.length])).toEqual([['Slipway.m3u8', songs.length]]);
  const first = names();

  // The order changes, one goes, one is called otherwise: what is as it was is not written again.
  const { entries } = await app.get<ListContents>(`/lists/${listId}`);
  await app.post(`/lists/${listId}/entries/remove`, { entryIds: [entries.at(-1)!.entryId] });
  await app.post('/fields', { selection: { ids: [songs[0]!.id] }, field: 'artist', value: ['The Ferry Band'] });
  await expect(draft(page)).toContainText('1 file will be removed');
  await expect(page.locator('[data-state="other tags"]')).toHaveCount(1);
  await expect(page.locator('[data-state="same"]')).toHaveCount(songs.length - 2);
  await written(page);
  expect(names()).toEqual(first.slice(0, -1));
  expect(readFileSync(join(home, 'Slipway.m3u8'), 'utf8')).toContain('The Ferry Band');
  expect(there().refused).toEqual([]);

  // Taken back by key, it is as it was first written.
  await page.keyboard.press('Control+z');
  await settled(
    () => Promise.resolve(names().length),
    (n) => n === first.length,
  );
  await expect(draft(page)).toContainText('will be removed', { timeout: 60_000 });
  expect(names()).toEqual(first);
  expect(readFileSync(join(home, 'Slipway.m3u8'), 'utf8')).not.toContain('The Ferry Band');
  expect(readFileSync(join(home, 'Papers/ferry.txt'), 'utf8')).toBe('last ferry 23:40');

  // A copy is spoilt on the stick: verifying finds it, writing puts it right.
  await written(page);
  const spoilt = join(home, names()[0]!);
  const bytes = readFileSync(spoilt);
  bytes[bytes.length >> 1]! ^= 0x55;
  writeFileSync(spoilt, bytes);
  await page.getByRole('button', { name: 'Verify' }).click();
  await expect(page.getByRole('dialog')).toContainText('It does not hold what was written');
  await page.keyboard.press('Escape');
  await expect(draft(page)).toContainText('1 file,');
  await written(page);
  expect(existsSync(spoilt)).toBe(true);
  expect(errors).toEqual([]);
});

test('added and written by keyboard alone; another folder takes everything as it is', async ({ page }) => {
  const errors = watchErrors(page);
  const folder = join(app.folder, 'demo/sticks/Everything');
  mkdirSync(folder);
  await page.goto(`${app.address}/handover`);
  await page.getByRole('button', { name: 'Add a destination…' }).first().focus();
  await page.keyboard.press('Enter');
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('Path; Enter goes there')).toBeFocused();
  await dialog.getByRole('radio', { name: 'A program' }).focus();
  await page.keyboard.press('ArrowRight', HELD);
  await dialog.getByLabel('Player').focus();
  await page.keyboard.type('Any');
  const path = dialog.getByLabel('Path; Enter goes there');
  await path.fill(folder);
  await path.press('Enter');
  await expect(path).toHaveValue(folder);
  await dialog.getByRole('button', { name: 'Write to this folder' }).press('Enter');
  await expect(page.getByRole('heading', { name: 'Everything', exact: true })).toBeVisible();
  await page.getByRole('button', { name: 'Choose…' }).press('Enter');
  await dialog.getByRole('radio', { name: 'Lists' }).focus();
  await page.keyboard.press('ArrowRight', HELD);
  await page.keyboard.press('ArrowRight', HELD);
  await dialog.getByRole('checkbox').first().focus();
  await page.keyboard.press('Space');
  await dialog.getByRole('button', { name: 'Save' }).press('Enter');
  await expect(page.locator('[data-file]').first()).toBeVisible();
  await expect(page.getByText(/ to AAC/)).toHaveCount(0);
  await draft(page).getByRole('button', { name: 'Write to Everything' }).press('Enter');
  await expect(draft(page).getByText('Everything is up to date')).toBeVisible({ timeout: 120_000 });
  expect(errors).toEqual([]);
});
