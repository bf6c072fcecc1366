/** Today: a date with its playlist, how ready it is, each figure leading to what it counts, and the way back. */
import { expect, test } from '@playwright/test';
import type { Overview, SheetPage } from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

const total = async (where: object): Promise<number> =>
  (await app.get<SheetPage>(`/tracks?where=${encodeURIComponent(JSON.stringify(where))}`)).total;

test('a date is added with its playlist; what it lacks is filled from here; it is ready', async ({ page }) => {
  const errors = watchErrors(page);
  await settled(
    () => app.get<Overview>('/overview'),
    (o) => o.tracks > 0 && o.measured === o.tracks,
  );
  await page.goto(`${app.address}/tracks?genre=House`);
  await page.locator('[data-track]').nth(0).click();
  await page
    .locator('[data-track]')
    .nth(2)
    .click({ modifiers: ['Shift'] });
  await page.keyboard.press('a');
  await page.getByPlaceholder('Name of a list, there or new').fill('Tide table');
  await page.getByText('New playlist“Tide table”').click();
  await expect(page.getByText('New playlist "Tide table"')).toBeVisible();

  await page.getByRole('link', { name: /^Today/ }).click();
  await expect(page.getByRole('article', { name: 'Slipway' })).toContainText('no crates or playlists yet');
  await page.getByRole('button', { name: 'Add a date' }).click();
  const dialog = page.getByRole('dialog', { name: 'Add a date' });
  await dialog.getByLabel('Name').fill('Lantern night');
  await dialog.getByLabel('Begins').fill('21:30');
  await dialog.getByRole('checkbox', { name: /Tide table/ }).check();
  await page.keyboard.press('Enter');
  const card = page.getByRole('article', { name: 'Lantern night' });
  await expect(card).toContainText('tomorrow');
  await expect(card).toContainText('3 tracks');
  await expect(card).toContainText('Ready for the floor');

  // A gap in one of them: the card says so, and leads to it.
  const [first] = (
    await app.get<SheetPage>(
      `/tracks?where=${encodeURIComponent(JSON.stringify({ field: 'genre', test: 'one of', values: ['House'] }))}`,
    )
  ).rows;
  await page.getByRole('link', { name: 'Tide table', exact: true }).click();
  await expect(page).toHaveURL(/arrange/);
  await page.goto(`${app.address}/tracks?genre=House`);
  await page.locator(`[data-track="${first!.id}"]`).click();
  await page.keyboard.press('e');
  await page.keyboard.press('Control+a');
  await page.keyboard.press('Delete');
  await page.keyboard.press('Enter');
  const lacking = await settled(
    () => total({ field: 'title', test: 'empty' }),
    (n) => n > 0,
    20_000,
  );
  expect(lacking).toBeGreaterThan(0);
  await page.getByRole('link', { name: /^Today/ }).click();
  await expect(card.getByRole('link', { name: '1 track to do' })).toBeVisible();
  await card.getByRole('link', { name: '1 left' }).first().click();
  await expect(page.getByTestId('matching')).toHaveText('1');
  await expect(page.locator(`[data-track="${first!.id}"]`)).toBeVisible();

  // Taken back from the list of the latest changes.
  await page.getByRole('link', { name: /^Today/ }).click();
  await page
    .getByRole('region', { name: 'Changed last' })
    .getByRole('button', { name: /^Undo: Title/ })
    .click();
  await expect(card).toContainText('Ready for the floor');

  // The date goes, and comes back.
  await page.getByRole('button', { name: 'Remove Lantern night' }).click();
  await expect(card).toHaveCount(0);
  await page.locator('[data-sonner-toast]', { hasText: 'is removed' }).getByRole('button', { name: 'Undo' }).click();
  await expect(card).toContainText('Ready for the floor');
  expect(errors).toEqual([]);
});

test('what is left is counted as the sheet counts it', async ({ page }) => {
  const errors = watchErrors(page);
  const { notReady } = await app.get<Overview>('/overview');
  await page.goto(`${app.address}/today`);
  await page
    .getByRole('region', { name: 'To do' })
    .getByRole('link', { name: /not ready for playout/ })
    .click();
  await expect(page.getByTestId('matching')).toHaveText(notReady.playout.toLocaleString('en-GB'));
  expect(errors).toEqual([]);
});
