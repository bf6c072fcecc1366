/** Ten tracks taken from the pool into a crate, cleaned, by mouse and key; a playlist file; taken back. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ListLine, Overview, SheetPage } from '@early-set/core/api/types';
import { newStep } from '@early-set/core/clean/steps';
import { playLike } from '../server/testing/music.ts';
import { startKnotPool, type KnotPool } from '../standins/knotpool/service.ts';
import { freshFolder, settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let pool: KnotPool, remove: () => void;
let end: (() => Promise<void>) | undefined;
const NAMES = [
  ...['Sand Martin', 'Harbour Light', 'Cockle Row', 'Thole Pin', 'Undertow', 'Gannet', 'Ticket Hall', 'Slate Roof'],
  ...['Last Bus', 'Salt Windows', 'Tar and Twine', 'Low Pilot'],
];

test.beforeAll(async () => {
  const made = freshFolder('pool');
  ({ remove } = made);
  for (const name of ['files', 'previews']) mkdirSync(join(made.folder, name));
  const lines = NAMES.map((name, i) => {
    const [id, file, title] = [`kp${i}`, `${name.replaceAll(' ', '_')}_promo.mp3`, `[promo] ${name}`];
    const path = join(made.folder, 'files', file);
    playLike(path, i + 1, 12, ['-metadata', `title=${title}`, '-metadata', 'artist=Iri Vane', '-b:a', '96k']);
    playLike(join(made.folder, 'previews', `${id}.mp3`), i + 1, 3, ['-b:a', '96k']);
    return {
      ...{ id, title, version: null, artists: ['Iri Vane'], label: null, genre: 'House', year: 2026, bpm: 124 },
      ...{ key: 'A minor', seconds: 12, added: '2026-11-24', file, preview: `${id}.mp3` },
    };
  });
  writeFileSync(join(made.folder, 'tracks.jsonl'), lines.map((l) => `${JSON.stringify(l)}\n`).join(''));
  const first = { id: 'new', name: 'New this week', tracks: ['kp0', 'kp1'] };
  writeFileSync(join(made.folder, 'lists.jsonl'), `${JSON.stringify(first)}\n`);
  pool = await startKnotPool({ folder: made.folder });
  ({ app, end } = await startDemo(() => 0, { EARLY_SET_POOL_URL: pool.address }));
});
test.afterAll(async () => {
  await end?.();
  await pool?.stop();
  remove?.();
});

const titles = async (): Promise<string[]> =>
  (await app.get<SheetPage>('/tracks?sort=title&limit=100')).rows.map((r) => String(r.values.title));

test('ten tracks from the pool into a crate, cleaned: links that expire and files that break off do no harm', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await app.post('/presets', { name: 'Promo out', steps: [newStep('marks', 's1')] });
  const before = await titles();
  await page.goto(`${app.address}/intake`);
  await page.getByRole('link', { name: /Knot Pool/ }).click();
  await expect(page.getByRole('heading', { name: 'Knot Pool' })).toBeVisible();
  const grid = page.getByRole('grid', { name: 'Tracks of Knot Pool' });
  await expect(grid.locator('[data-track]')).toHaveCount(12);
  await grid.getByRole('button', { name: 'Audition [promo] Gannet' }).click();
  await expect(page.getByRole('region', { name: 'Audition' })).toContainText('[promo] Gannet');
  // Ten of them by key, from the third on.
  await grid.locator('[data-track="[promo] Cockle Row"]').click();
  for (let i = 0; i < 9; i++) await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('b');
  const basket = page.getByRole('complementary', { name: 'Basket' });
  await expect(basket.getByRole('button', { name: 'Take 10 tracks' })).toBeVisible();
  for (const colorScheme of ['dark', 'light'] as const) {
    await page.emulateMedia({ colorScheme });
    const { violations } = await new AxeBuilder({ page }).analyze();
    expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 160)).join(' | ')}`)).toEqual([]);
  }
  await basket.getByLabel('Clean new tracks with').selectOption('Promo out');
  await basket.getByLabel('Put them into the crate').fill('For Saturday');
  await basket.getByRole('button', { name: 'Take 10 tracks' }).click();
  await expect(page).toHaveURL(/\/intake$/);
  await expect(page.getByText(/10 new tracks.*Promo out: 10 tracks cleaned/)).toBeVisible({ timeout: 90_000 });
  expect(readdirSync(join(app.music, 'From Knot Pool'))).toHaveLength(10);
  expect((await titles()).filter((t) => !before.includes(t)).sort()).toEqual(NAMES.slice(2).sort());
  const crate = (await app.get<ListLine[]>('/lists')).find((l) => l.name === 'For Saturday')!;
  expect([crate.kind, crate.tracks]).toEqual(['crate', 10]);
  await page.goto(`${app.address}/arrange/${crate.id}`);
  await expect(page.getByText('Sand Martin')).toHaveCount(0);
  await expect(page.getByText('Tar and Twine').first()).toBeVisible();
  // Looked at again, only what is left is new; the rest is in the library.
  await page.goto(`${app.address}/intake/from?source=pool`);
  await expect(page.getByRole('button', { name: 'New 2', exact: true })).toBeVisible();
  await expect(page.getByRole('button', { name: 'In the library 10' })).toBeVisible();
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.measured === o.tracks,
  );
  // Taken back: they go out of the library, the crate with them; their files stay.
  await page.goto(`${app.address}/intake`);
  await page.getByRole('link', { name: 'What came over' }).click();
  await page.getByRole('button', { name: 'Undo this' }).click();
  await settled(titles, (now) => now.length === before.length);
  expect(readdirSync(join(app.music, 'From Knot Pool'))).toHaveLength(10);
  expect(errors).toEqual([]);
});

test('a playlist file: opened, what it names is new, here or not found; left where it lies', async ({ page }) => {
  const errors = watchErrors(page);
  const lists = join(app.folder, 'demo/programs/old lists');
  mkdirSync(lists, { recursive: true });
  playLike(join(lists, 'eel grass.mp3'), 30, 12, ['-metadata', 'title=Eel Grass', '-metadata', 'artist=Odette Kassar']);
  playLike(join(lists, 'another.mp3'), 31, 12);
  writeFileSync(join(lists, 'sunday.m3u8'), '#EXTM3U\n#EXTINF:12,Odette Kassar - Eel Grass\neel grass.mp3\ngone.mp3\n');
  await page.goto(`${app.address}/intake`);
  await page.getByRole('button', { name: 'A playlist file…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Path; Enter goes there').fill(lists);
  await dialog.getByLabel('Path; Enter goes there').press('Enter');
  await dialog.getByRole('button', { name: 'sunday.m3u8' }).click();
  await expect(page.getByRole('heading', { name: 'sunday' })).toBeVisible();
  await expect(page.getByRole('button', { name: 'Not found 1' })).toBeVisible();
  await page.getByRole('button', { name: 'Put the list sunday into the basket' }).click();
  const basket = page.getByRole('complementary', { name: 'Basket' });
  await basket.getByRole('radio', { name: 'Leave them there' }).click();
  await basket.getByRole('button', { name: 'Take 2 tracks' }).click();
  await expect(page.getByText(/1 new track, 1 list, 1 not taken/)).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('Its file is not there')).toBeVisible();
  expect(await titles()).toContain('Eel Grass');
  const list = (await app.get<ListLine[]>('/lists')).find((l) => l.name === 'sunday')!;
  expect([list.kind, list.tracks]).toEqual(['playlist', 1]);
  rmSync(lists, { recursive: true });
  expect(errors).toEqual([]);
});
