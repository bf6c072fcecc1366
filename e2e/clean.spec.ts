/**
 * A messy folder cleaned by steps: seen first, one question answered, applied, seen in the files, taken back byte
 * for byte.
 */
import { expect, test, type Page } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { copyFileSync, mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { settled, startDemo, watchErrors, type App } from './app.ts';

const HOUSE = 'Crates/House';
/** Messy file: from which it is made, and what its tags say. */
const MESS: Record<string, { from: string; tags: Record<string, string> }> = {
  '01_keel_nine-quay_lights_(night_mix)_promo.mp3': { from: `${HOUSE}/Odette Kassar - Pilot Boat.mp3`, tags: {} },
  '02_odette_kassar-eel_lamp.mp3': { from: `${HOUSE}/Odette Kassar - Pilot Boat.mp3`, tags: {} },
  'MARROW AND PINE.flac': {
    from: `${HOUSE}/Odette Kassar - Slack Water (Boathouse Mix).flac`,
    tags: {
      title: '07. Dry Hull [www.free-promos.example]',
      artist: 'MARROW & PINE',
      comment: 'for promotional use only',
    },
  },
  'guest.m4a': {
    from: `${HOUSE}/Vesna Rook - Lamp Room.m4a`,
    tags: { title: 'Mile of Line feat. Vesna Rook', artist: 'Odette Kassar' },
  },
  'hoist.mp3': { from: `${HOUSE}/Odette Kassar - Pilot Boat.mp3`, tags: { title: 'The Hoist', artist: 'The Hoist' } },
};

let app: App;
let end: (() => Promise<void>) | undefined;
const original = new Map<string, Buffer>();
const pathOf = (name: string): string => join(app.music, 'Mess', name);
test.beforeAll(async () => {
  ({ app, end } = await startDemo((music) => {
    mkdirSync(join(music, 'Mess'));
    for (const [name, { from, tags }] of Object.entries(MESS)) {
      const made = spawnSync(
        'ffmpeg',
        [
          '-v',
          'error',
          '-i',
          join(music, from),
          '-map',
          '0:a',
          '-c',
          'copy',
          '-map_metadata',
          '-1',
          ...Object.entries(tags).flatMap(([k, v]) => ['-metadata', `${k}=${v}`]),
          join(music, 'Mess', name),
        ],
        { encoding: 'utf8' },
      );
      if (made.status !== 0) copyFileSync(join(music, from), join(music, 'Mess', name));
      expect(made.stderr).toBe('');
      original.set(name, readFileSync(join(music, 'Mess', name)));
    }
    return original.size;
  }));
});
test.afterAll(() => end?.());

const tagsOf = (name: string): Record<string, string> => {
  const { format } = JSON.parse(
    spawnSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_format', pathOf(name)], { encoding: 'utf8' }).stdout,
  ) as { format: { tags?: Record<string, string> } };
  return Object.fromEntries(Object.entries(format.tags ?? {}).map(([k, v]) => [k.toLowerCase(), v]));
};
const packetsOf = (path: string): string =>
  spawnSync('ffmpeg', ['-v', 'error', '-i', path, '-map', '0:a', '-c', 'copy', '-f', 'md5', '-'], { encoding: 'utf8' })
    .stdout;

async function openMess(page: Page, preset = /^Downloads, from name to tags/): Promise<void> {
  await page.goto(`${app.address}/clean`);
  await page.getByRole('button', { name: /^Which tracks/ }).click();
  await page.getByLabel('Find a folder, crate or playlist').fill('Mess');
  await page.getByRole('button', { name: /^Mess/ }).click();
  await page.getByRole('button', { name: 'Presets' }).click();
  await page.getByRole('button', { name: preset }).click();
}

test('cleaned by steps, one question answered, applied, in the files, taken back', async ({ page }) => {
  const errors = watchErrors(page);
  await openMess(page);
  const sheet = page.getByRole('grid', { name: 'What would change' });
  await expect(sheet.getByRole('row')).toHaveCount(6); // five and the header
  const question = page.getByRole('region', { name: 'Questions' });
  await expect(question).toContainText('would leave the title empty');
  await page.screenshot({ path: 'test-results/clean.png' });
  await question.getByRole('button', { name: 'Keep as it is' }).click();
  await expect(question).toContainText('1 question answered');
  // What is struck through and what comes stand in one cell.
  const dryHull = sheet.getByRole('row', { name: /Dry Hull/ });
  await expect(dryHull.locator('del').first()).toBeVisible();
  await expect(dryHull.locator('ins').filter({ hasText: 'Marrow' })).toBeVisible();

  // By keyboard: the last row is left out, and taken in again.
  await sheet.focus();
  await page.keyboard.press('Home');
  await page.keyboard.press('x');
  await expect(page.getByRole('img', { name: 'Left out' })).toHaveCount(1);
  await page.keyboard.press('x');
  await expect(page.getByRole('img', { name: 'Left out' })).toHaveCount(0);

  await page.getByTestId('draft-card').getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText('Written to 4 files')).toBeVisible();
  expect(tagsOf('01_keel_nine-quay_lights_(night_mix)_promo.mp3')).toMatchObject({
    title: 'Quay Lights',
    artist: 'Keel Nine',
    track: '1',
  });
  expect(tagsOf('02_odette_kassar-eel_lamp.mp3')).toMatchObject({ title: 'Eel Lamp', artist: 'Odette Kassar' });
  expect(tagsOf('MARROW AND PINE.flac')).toMatchObject({ title: 'Dry Hull', artist: 'Marrow & Pine' });
  expect(tagsOf('MARROW AND PINE.flac').comment).toBeUndefined();
  expect(tagsOf('guest.m4a').title).toBe('Mile of Line');
  expect(readFileSync(pathOf('hoist.mp3')).equals(original.get('hoist.mp3')!)).toBe(true);
  for (const [name, { from }] of Object.entries(MESS))
    expect(packetsOf(pathOf(name))).toBe(packetsOf(join(app.music, from)));

  // Nothing is left to do but what was kept as it is.
  await expect(page.getByText('Nothing would change. Add a step')).toBeVisible();

  await page.goto(`${app.address}/changes`);
  await page.locator('[data-set]', { hasText: /Downloads, from name to tags: 4 tracks/ }).click();
  await page.getByRole('button', { name: 'Undo this' }).click();
  await settled(
    () => Promise.resolve([...original].every(([name, bytes]) => readFileSync(pathOf(name)).equals(bytes))),
    (same) => same,
    20_000,
  );
  expect(errors).toEqual([]);
});

test('files get the names that their fields say, and their old ones back', async ({ page }) => {
  const errors = watchErrors(page);
  const names = (): string[] => readdirSync(join(app.music, 'Mess')).sort();
  const before = names();
  await openMess(page, /^File names from fields/);
  const sheet = page.getByRole('grid', { name: 'What would change' });
  await expect(sheet.getByRole('columnheader', { name: 'File name' })).toBeVisible();
  await expect(sheet.getByRole('row', { name: /The Hoist - The Hoist/ })).toBeVisible();
  await page.getByTestId('draft-card').getByRole('button', { name: 'Apply' }).click();
  await settled(
    () => Promise.resolve(names()),
    (now) =>
      now.includes('The Hoist - The Hoist.mp3') && now.includes('Odette Kassar - Mile of Line feat. Vesna Rook.m4a'),
    20_000,
  );
  expect(names()).toHaveLength(before.length);
  // The track went with its file: it is found, and can be heard.
  await page.goto(`${app.address}/tracks?find=${encodeURIComponent('The Hoist')}`);
  await page.locator('[data-track]').first().click();
  await page.keyboard.press('Space');
  await expect(page.getByRole('button', { name: 'Pause' })).toBeVisible();
  await page.goto(`${app.address}/changes`);
  await page.locator('[data-set]', { hasText: /File names from fields/ }).click();
  await expect(
    page.locator('p', { hasText: 'File: ' }).filter({ hasText: 'The Hoist - The Hoist' }).first(),
  ).toBeVisible();
  await page.getByRole('button', { name: 'Undo this' }).click();
  await settled(
    () => Promise.resolve(names()),
    (now) => JSON.stringify(now) === JSON.stringify(before),
    20_000,
  );
  expect(errors).toEqual([]);
});

test('library only: files are written later, after a look', async ({ page }) => {
  const errors = watchErrors(page);
  await openMess(page);
  await page.getByLabel('Where edits go').selectOption('library');
  await page.getByTestId('draft-card').getByRole('button', { name: 'Apply' }).click();
  await expect(page.getByText('Tags not written yet: 4 tracks')).toBeVisible();
  expect(readFileSync(pathOf('guest.m4a')).equals(original.get('guest.m4a')!)).toBe(true);
  await page.getByRole('button', { name: 'Write…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Write into the files' });
  await expect(dialog.getByRole('listitem').filter({ hasText: 'Eel Lamp' })).toBeVisible();
  await dialog.getByRole('button', { name: 'Write 4 files' }).click();
  await expect(page.getByText(/Tags not written yet/)).toHaveCount(0);
  expect(tagsOf('02_odette_kassar-eel_lamp.mp3').title).toBe('Eel Lamp');
  await page.getByLabel('Where edits go').selectOption('library and files');
  expect(errors).toEqual([]);
});

test('steps are reordered by keyboard, saved, exported, and come back from a file; patterns changed by hand', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await openMess(page);
  await page.getByRole('button', { name: /^Move step 7/ }).focus();
  await page.keyboard.press('ArrowUp');
  await expect(page.getByRole('list', { name: 'Steps' }).getByRole('listitem').nth(5)).toContainText('6. Capitals');
  await page.getByRole('button', { name: 'Presets' }).click();
  await page.getByLabel('Name of this preset').fill('Mine');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Export Mine' }).click(),
  ]);
  const file = await download.path();
  await page.getByRole('button', { name: 'Remove Mine' }).click();
  await expect(page.getByRole('button', { name: 'Export Mine' })).toHaveCount(0);
  await page
    .getByLabel('Preset file')
    .setInputFiles({ name: 'mine.preset.json', mimeType: 'application/json', buffer: readFileSync(file) });
  await expect(page.getByRole('heading', { name: 'Mine' })).toBeVisible();
  await page.getByRole('button', { name: 'Presets' }).click();
  await page
    .getByLabel('Preset file')
    .setInputFiles({ name: 'song.json', mimeType: 'application/json', buffer: Buffer.from('{"format":"else"}') });
  await expect(page.getByText('song.json: This file is no preset of Early Set')).toBeVisible();
  await page.keyboard.press('Escape');

  await page.getByRole('button', { name: /patterns? found/ }).click();
  const group = page.getByRole('article').filter({ hasText: 'guest' }).first();
  await group.getByLabel('Part 1 is').selectOption('album');
  await expect(group).toContainText('chosen by hand');
  await page.getByRole('button', { name: /^Split guest by hand/ }).click();
  await page.getByLabel(/^Parts of guest/).fill('gu | est');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('cell', { name: 'gu', exact: true })).toBeVisible();
  expect(errors).toEqual([]);
});
