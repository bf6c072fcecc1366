/** Files that arrive: a watched folder takes them in by itself, an archive is looked into and unpacked. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { ZipArchive } from 'archiver';
import { copyFileSync, createWriteStream, existsSync, mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import type { SheetPage } from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

const paths = async (): Promise<string[]> =>
  (await app.get<SheetPage>('/tracks?limit=500')).rows.map((r) => String(r.values.path));

test('a karaoke pair in an archive and a file beside it: watched, unpacked and in the library, by mouse', async ({
  page,
}) => {
  test.setTimeout(120_000);
  const errors = watchErrors(page);
  const song = (await paths()).find((path) => path.endsWith('.mp3'))!;
  await page.goto(`${app.address}/intake`);
  await page.getByRole('switch', { name: /^Watch / }).click();
  await expect(page.getByRole('switch', { name: /^Watch / })).toBeChecked();

  const folder = join(app.music, 'New');
  mkdirSync(folder);
  copyFileSync(join(app.music, song), join(folder, 'by itself.mp3'));
  await settled(paths, (all) => all.includes('New/by itself.mp3'));

  const archive = new ZipArchive({});
  const out = createWriteStream(join(folder, 'Tuesday night.zip'));
  archive.pipe(out);
  archive.append(readFileSync(join(app.music, song)), { name: 'Slow Lamps.mp3' });
  archive.append(Buffer.alloc(4800, 9), { name: 'Slow Lamps.cdg' });
  archive.append('hello', { name: 'read me.txt' });
  await archive.finalize();
  await finished(out);
  // The watched folder tells of it without anybody asking.
  await page.locator('button[aria-pressed]').first().click();
  await page.getByRole('button', { name: 'Look into New/Tuesday night.zip' }).click({ timeout: 30_000 });
  const dialog = page.getByRole('dialog', { name: 'Tuesday night.zip' });
  await expect(dialog).toContainText('Text, not music');
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await dialog.getByRole('button', { name: 'Unpack 2 files' }).click();
  await expect(dialog).toHaveCount(0);
  await settled(paths, (all) => all.includes('New/Tuesday night/Slow Lamps.mp3'));
  expect(readdirSync(join(folder, 'Tuesday night')).sort()).toEqual(['Slow Lamps.cdg', 'Slow Lamps.mp3']);
  expect(readFileSync(join(folder, 'Tuesday night/Slow Lamps.mp3'))).toEqual(readFileSync(join(app.music, song)));
  expect(existsSync(join(folder, 'Tuesday night.zip'))).toBe(true);
  await expect(page.getByText('Unpack Tuesday night.zip')).toBeVisible();
  expect(errors).toEqual([]);
});
