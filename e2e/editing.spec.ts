/**
 * Editing by hand in the sheet and in the inspector, pictures, and listening by single keys: on screen and in the
 * files.
 */
import { expect, test, type Page } from '@playwright/test';
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import type {
  ChangeSetLine,
  ListContents,
  ListLine,
  SheetPage,
  SheetRow,
  TrackDetails,
} from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

const rows = (page: Page) => page.locator('#sheet [role="row"][data-track]');
const rowsFor = async (find: string): Promise<SheetRow[]> =>
  (
    await app.get<SheetPage>(
      `/tracks?where=${encodeURIComponent(JSON.stringify({ test: 'words', text: find }))}&sort=title`,
    )
  ).rows;
const now = (id: number) => app.get<TrackDetails>(`/tracks/${id}`);
const probe = (path: string): string =>
  spawnSync('ffprobe', ['-v', 'error', '-of', 'json', '-show_format', '-show_streams', join(app.music, path)], {
    encoding: 'utf8',
  }).stdout;

test('in the sheet: a cell typed over with an offered value, on by Tab and arrows, in the files, taken back', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const found = await rowsFor('Low Tide Assembly');
  expect(found.length).toBeGreaterThan(2);
  const [first, second] = found as [SheetRow, SheetRow];
  const before = [
    readFileSync(join(app.music, String(first.values.path))),
    readFileSync(join(app.music, String(second.values.path))),
  ];
  await page.goto(`${app.address}/tracks?find=Low+Tide+Assembly&sort=title%3Aasc`);
  await expect(rows(page)).toHaveCount(found.length);
  await page.locator(`[data-track="${first.id}"]`).getByRole('gridcell').nth(3).dblclick();
  const editor = page.getByRole('combobox', { name: /^Genre of/ });
  await editor.fill('deep');
  await expect(page.getByRole('option', { name: 'Deep House' })).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect(editor).toHaveValue('Deep House');
  await page.keyboard.press('Tab');
  await page.getByRole('combobox', { name: /^Year of/ }).fill('2011');
  await page.keyboard.press('ArrowDown');
  await expect(page.locator(`[data-track="${second.id}"]`).getByRole('combobox', { name: /^Year of/ })).toBeFocused();
  await page.keyboard.type('2012');
  await page.keyboard.press('Enter');
  await settled(
    () => now(second.id),
    (t) => t.values.year === 2012,
  );
  const one = await now(first.id);
  expect([one.values.genre, one.values.year]).toEqual([['Deep House'], 2011]);
  await settled(
    () => Promise.resolve(probe(String(first.values.path))),
    (said) => said.includes('Deep House') && said.includes('2011'),
  );

  // A cut text shows whole once its row has had the focus for a moment.
  const artist = page.locator(`[data-track="${first.id}"]`).getByRole('gridcell').nth(2);
  await artist.click();
  await expect(page.locator('[data-whole]', { hasText: 'Low Tide Assembly' })).toBeVisible();

  // E begins with the title; Esc leaves it as it was.
  await page.locator('#sheet').focus();
  await page.keyboard.press('e');
  await page.getByRole('combobox', { name: /^Title of/ }).fill('Something else');
  await page.keyboard.press('Escape');
  await expect(page.locator('#sheet')).toBeFocused();
  expect((await now(second.id)).values.title).toBe(second.values.title);

  const sets = () => app.get<ChangeSetLine[]>('/changes?limit=20');
  const had = (await sets()).length;
  for (let i = 1; i <= 3; i++) {
    await page.keyboard.press('Control+z');
    await settled(sets, (all) => all.length === had + i && all[0]!.undoOf !== null && all[0]!.waiting === 0);
  }
  expect((await sets()).slice(0, 3).map((s) => [s.conflicts, s.undoOf === null])).toEqual(Array(3).fill([0, false]));
  await settled(
    () => Promise.resolve(readFileSync(join(app.music, String(first.values.path))).equals(before[0]!)),
    (same) => same,
    20_000,
  );
  expect(readFileSync(join(app.music, String(second.values.path))).equals(before[1]!)).toBe(true);
  expect(errors).toEqual([]);
});

test('in the inspector for many: what they share is shown, only what is touched is changed', async ({ page }) => {
  const errors = watchErrors(page);
  const found = await rowsFor('Net Loft Seven');
  await page.goto(`${app.address}/tracks?find=Net+Loft+Seven`);
  await rows(page).first().click();
  await page.keyboard.press('Control+a');
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  await expect(inspector).toContainText(`${found.length} tracks chosen`);
  await expect(inspector.locator('[data-field="title"]')).toHaveText(`several: ${found.length}`);
  await expect(inspector.locator('[data-field="album"]')).toHaveText('Live at the Net Loft');
  await inspector.locator('[data-field="title"]').click();
  await page.keyboard.press('Enter'); // nothing was typed: nothing changes
  await inspector.locator('[data-field="moods"]').click();
  await inspector.getByRole('combobox', { name: 'Moods' }).fill('salty; slow');
  await page.keyboard.press('Enter');
  for (const r of found)
    await settled(
      () => now(r.id),
      (t) => JSON.stringify(t.values.moods) === '["salty","slow"]' && t.values.title === r.values.title,
    );
  // A field copied to another, from its menu.
  await inspector.getByRole('button', { name: 'Copy Album', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Copy into Comment' }).click();
  await settled(
    () => now(found[0]!.id),
    (t) => t.values.comment === 'Live at the Net Loft',
  );
  expect(errors).toEqual([]);
});

test('a picture for several: chosen, seen beside the old one, given, in the files, taken out', async ({ page }) => {
  const errors = watchErrors(page);
  const found = await rowsFor('Net Loft Seven');
  await page.goto(`${app.address}/tracks?find=Net+Loft+Seven`);
  await rows(page).first().click();
  await page.keyboard.press('Control+a');
  await page.getByRole('button', { name: /^Cover of .*: change/ }).click();
  const dialog = page.getByRole('dialog', { name: 'Cover' });
  await dialog.getByLabel('Cover file').setInputFiles({
    name: 'pier.png',
    mimeType: 'image/png',
    buffer: await sharp({ create: { width: 2000, height: 1500, channels: 3, background: '#123456' } })
      .png()
      .toBuffer(),
  });
  await expect(dialog.getByRole('img', { name: 'The new cover' })).toBeVisible();
  await expect(dialog).toContainText('pier.png, 1200 × 900');
  await dialog.getByRole('button', { name: `Set on ${found.length} tracks` }).click();
  for (const r of found)
    await settled(
      () => Promise.resolve(probe(String(r.values.path))),
      (said) => /"width": 1200/.test(said),
    );
  await page.getByRole('button', { name: /^Cover of .*: change/ }).click();
  await dialog
    .getByLabel('Cover file')
    .setInputFiles({ name: 'not.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('words') });
  await expect(page.getByText('not.jpg is no whole JPEG, PNG, WebP or GIF')).toBeVisible();
  await dialog.getByRole('button', { name: 'Remove' }).click();
  await settled(
    () => now(found[0]!.id),
    (t) => t.artHash === null,
  );
  expect(errors).toEqual([]);
});

test('rating by ear: energy, moods and stars by single keys, then the next', async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto(`${app.address}/rate?what=moods`);
  const list = page.getByRole('list', { name: 'To rate' });
  await expect(list.getByRole('button').first()).toBeVisible();
  const ids = await list
    .locator('[data-track]')
    .evaluateAll((nodes) => nodes.slice(0, 3).map((n) => Number(n.getAttribute('data-track'))));
  await page.keyboard.press('4');
  await settled(
    () => now(ids[0]!),
    (t) => t.values.energy === 40,
  );
  await page.keyboard.press('w');
  await settled(
    () => now(ids[0]!),
    (t) => JSON.stringify(t.values.moods) === '["dark"]',
  );
  await page.keyboard.press('Shift+Digit3');
  await settled(
    () => now(ids[0]!),
    (t) => t.values.rating === 3,
  );
  await expect(list.getByLabel('judged')).toHaveCount(1);
  await page.keyboard.press('n');
  await expect(list.locator('[aria-current="true"]')).toHaveAttribute('data-track', String(ids[1]));
  await page.keyboard.press('0');
  await settled(
    () => now(ids[1]!),
    (t) => t.values.energy === 100,
  );
  await page.getByRole('button', { name: 'Change the moods on the keys' }).click();
  await page.getByLabel('Moods, separated by semicolons').fill('brackish; windy');
  await page.keyboard.press('Enter');
  await page.keyboard.press('q');
  await settled(
    () => now(ids[1]!),
    (t) => JSON.stringify(t.values.moods) === '["brackish"]',
  );
  expect(errors).toEqual([]);
});

test('completeness: a figure opens just the tracks it counts', async ({ page }) => {
  const errors = watchErrors(page);
  const lacking = (
    await app.get<SheetPage>(`/tracks?where=${encodeURIComponent(JSON.stringify({ field: 'genre', test: 'empty' }))}`)
  ).total;
  expect(lacking).toBeGreaterThan(0);
  await page.goto(`${app.address}/clean/completeness`);
  await page
    .getByRole('region', { name: 'Per field' })
    .getByRole('link', { name: String(lacking), exact: true })
    .and(page.locator(`[title$="without"]`))
    .first()
    .click();
  await expect(page.getByTestId('matching')).toBeVisible();
  await page.goto(`${app.address}/clean/completeness`);
  await page.getByRole('button', { name: 'Required fields…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Required fields' });
  await dialog.getByRole('group', { name: 'Ready for playout' }).getByRole('button', { name: 'Notes' }).click();
  await dialog.getByRole('button', { name: 'Keep these rules' }).click();
  await expect(page.getByText('0 of 30')).toBeVisible();
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Spreadsheet' }).click(),
  ]);
  expect(
    readFileSync(await file.path())
      .subarray(0, 2)
      .toString(),
  ).toBe('PK');
  expect(errors).toEqual([]);
});

test('lyrics are typed, go into the file line by line, and are found in their own field', async ({ page }) => {
  const [row] = await rowsFor('Lamp Room');
  await page.goto(`${app.address}/tracks?find=lamp+room`);
  await rows(page).first().click();
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  await inspector.getByRole('button', { name: /more fields$/ }).click();
  await inspector.locator('[data-field="lyrics"]').click();
  await inspector.getByRole('textbox', { name: 'Lyrics' }).fill('Haul away\nand let the tide go');
  await page.keyboard.press('Control+Enter');
  await expect(page.getByText('Lyrics on one track')).toBeVisible();
  expect((await now(row!.id)).values.lyrics).toBe('Haul away\nand let the tide go');
  expect(probe(String(row!.values.path))).toContain('Haul away\\nand let the tide go');
  await page.goto(`${app.address}/tracks`);
  await page.getByRole('combobox', { name: 'Where to look' }).selectOption('Lyrics');
  await page.getByRole('searchbox', { name: 'Find in lyrics' }).fill('"let the tide"');
  await expect(page.getByTestId('matching')).toHaveText('1');
  await page.getByRole('combobox', { name: 'Where to look' }).selectOption('Title');
  await expect(page.getByTestId('matching')).toHaveText('0');
});

test('by their covers: arrows go along and across, several are chosen and put into a playlist', async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto(`${app.address}/tracks?sort=title%3Aasc`);
  await page.getByRole('radio', { name: 'Covers' }).click();
  const wall = page.getByRole('listbox', { name: 'Tracks' });
  await expect(wall.getByRole('option').first()).toBeVisible();
  const across = await wall.evaluate((box) => {
    const tops = [...box.querySelectorAll('[role=option]')].map((tile) => tile.getBoundingClientRect().top);
    return tops.filter((top) => top === tops[0]).length;
  });
  expect(across).toBeGreaterThan(2);
  await wall.focus();
  for (const key of ['ArrowDown', 'ArrowRight', 'ArrowDown', 'Shift+ArrowRight']) await page.keyboard.press(key);
  await expect(page.getByText('2 chosen')).toBeVisible();
  const { rows: all } = await app.get<SheetPage>('/tracks?sort=title');
  const wanted = [all[across + 1]!, all[across + 2]!];
  for (const { id } of wanted) await expect(page.locator(`#sheet-${id}`)).toHaveAttribute('aria-selected', 'true');
  await page.keyboard.press('a');
  await page.getByPlaceholder('Name of a list, there or new').fill('By sight');
  await page.getByText('New playlist“By sight”').click();
  await expect(page.getByText('New playlist "By sight"')).toBeVisible();
  const list = (await app.get<ListLine[]>('/lists')).find((l) => l.name === 'By sight')!;
  const { entries } = await app.get<ListContents>(`/lists/${list.id}`);
  expect(entries.map((e) => e.id)).toEqual(wanted.map((row) => row.id));
  await page.getByRole('radio', { name: 'List' }).click();
  await expect(page.getByRole('grid', { name: 'Tracks' })).toBeVisible();
  expect(errors).toEqual([]);
});
