import { expect, test } from '@playwright/test';
import type { Overview } from '@early-set/core/api/types';
import { freshFolder, startApp, type App } from './app.ts';

let app: App;
let remove: () => void;
test.beforeAll(async () => {
  test.setTimeout(240_000);
  const fresh = freshFolder('many');
  remove = fresh.remove;
  app = await startApp(fresh.folder, ['--demo', '--many']);
});
test.afterAll(async () => {
  await app?.stop();
  remove?.();
});

test('100,000 tracks scroll without blank rows, select as one, and narrow at once', async ({ page }) => {
  expect((await app.get<Overview>('/overview')).tracks).toBeGreaterThanOrEqual(100_000);
  await page.goto(`${app.address}/tracks?sort=title:asc`);
  const sheet = page.locator('#sheet');
  await expect(page.locator('[data-track]').first()).toBeVisible();
  // Wheel as a hand does: 100 turns of three rows; blank rows in sight are counted after each painted frame.
  await sheet.hover();
  const blanks = await sheet.evaluate(async (node) => {
    let seen = 0;
    for (let i = 0; i < 100; i++) {
      node.scrollBy(0, 93);
      await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
      const box = node.getBoundingClientRect();
      for (const blank of node.querySelectorAll('[data-blank]')) {
        const b = blank.getBoundingClientRect();
        if (b.bottom > box.top && b.top < box.bottom) seen++;
      }
    }
    return seen;
  });
  expect(blanks).toBe(0);
  // A jump to the far end fills itself.
  await sheet.evaluate((node) => {
    node.scrollTop = node.scrollHeight;
  });
  await expect(page.locator('[data-track][aria-rowindex="100001"]')).toBeVisible();
  await expect(page.locator('[data-blank]')).toHaveCount(0);
  await sheet.focus();
  await page.keyboard.press('Control+a');
  await expect(page.getByText('100,000 chosen')).toBeVisible();
  const genres = page.getByRole('complementary', { name: 'Filters' }).getByRole('region', { name: 'Genre' });
  await genres.getByRole('button', { name: / more$/ }).click();
  await genres.getByRole('button', { name: /^Techno / }).click();
  await expect(page.getByRole('button', { name: 'Take off the filter Techno' })).toBeVisible();
  await expect(page.getByTestId('matching')).not.toHaveText('100,000');
});
