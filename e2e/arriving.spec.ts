/** Files that arrive: a watched folder takes them in by itself, an archive is looked into and unpacked. */
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { ZipArchive } from 'archiver';
import { execFileSync } from 'node:child_process';
import {
  copyFileSync,
  createWriteStream,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { finished } from 'node:stream/promises';
import type { SheetPage } from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
/** Outside of the library. */
const stick = mkdtempSync(join(tmpdir(), 'early-set-stick-'));
test.beforeAll(async () => {
  ({ app, end } = await startDemo(undefined, { EARLY_SET_PLACES: stick }));
});
test.afterAll(async () => {
  await end?.();
  rmSync(stick, { recursive: true, force: true });
});

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

test('a stick is looked through first; what is new is copied by the naming rules, its report opens the tracks', async ({
  page,
}) => {
  test.setTimeout(120_000);
  const errors = watchErrors(page);
  mkdirSync(join(stick, 'Set'), { recursive: true });
  const song = (await paths()).find((path) => path.endsWith('.mp3'))!;
  copyFileSync(join(app.music, song), join(stick, 'known.mp3'));
  const tags = ['-metadata', 'title=Keel Song', '-metadata', 'artist=Vesna Rook'];
  for (const [i, name] of ['Set/a.mp3', 'Set/b.flac'].entries())
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-f',
      'lavfi',
      '-i',
      `sine=${300 + 90 * i}:duration=3`,
      ...tags,
      join(stick, name),
    ]);
  writeFileSync(join(stick, 'notes.txt'), 'of the harbour');
  const before = readFileSync(join(stick, 'Set/a.mp3'));

  await page.goto(`${app.address}/disk/places`);
  await page.getByRole('button', { name: 'Add a rule' }).click();
  await page.getByRole('menuitem', { name: 'All in one folder' }).click();
  await page.goto(`${app.address}/intake`);
  await page.getByRole('button', { name: 'Choose a folder' }).click();
  const picker = page.getByRole('dialog', { name: 'Choose a folder' });
  await picker.getByLabel(/^Path/).fill(stick);
  await picker.getByLabel(/^Path/).press('Enter');
  await picker.getByText('Set', { exact: true }).waitFor();
  await picker.getByRole('button', { name: 'Look first…' }).click();
  await expect(page.getByTestId('look-count')).toContainText('3 music files');
  await expect(page.getByRole('radio', { name: 'Here already (1)' })).toBeVisible();
  await expect(page.getByRole('radio', { name: 'Not taken (1)' })).toBeVisible();
  expect((await new AxeBuilder({ page }).analyze()).violations).toEqual([]);
  await page.getByLabel('Folder in it').fill('From sticks');
  await page.getByLabel('File names').selectOption('by the naming rules');
  await page.getByRole('button', { name: 'Copy 2 files' }).click();
  await settled(paths, (all) => all.filter((path) => path.startsWith('From sticks/')).length === 2);
  expect(readdirSync(join(app.music, 'From sticks')).sort()).toEqual([
    'Vesna Rook - Keel Song.flac',
    'Vesna Rook - Keel Song.mp3',
  ]);
  expect(readFileSync(join(app.music, 'From sticks/Vesna Rook - Keel Song.mp3'))).toEqual(before);
  expect(readFileSync(join(stick, 'Set/a.mp3'))).toEqual(before);

  await expect(page.getByText('2 files copied')).toBeVisible();
  const scan = page.locator('li', { has: page.getByRole('link', { name: '2 taken' }) });
  await scan.getByRole('button', { name: 'Report' }).click();
  const report = page.getByRole('dialog', { name: /^Scan / });
  await report.getByRole('link', { name: '2 Taken in' }).click();
  await expect(page.getByTestId('matching')).toHaveText('2');
  expect(errors).toEqual([]);
});
