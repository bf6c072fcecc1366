/** A phone and a tablet in hand: tracks rated, tagged, noted, kept for later and put into lists, all by touch. */
import { expect, test, type Browser, type Page } from '@playwright/test';
import type { ListContents, ListLine, SheetPage } from '@early-set/core/api/types';
import { settled, startDemo, type App } from './app.ts';

let app: App;
let end: () => Promise<void>;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

const held = async (browser: Browser, width: number, height: number): Promise<Page> =>
  (await browser.newContext({ viewport: { width, height }, hasTouch: true, isMobile: true })).newPage();
const valuesOf = async (title: string): Promise<Record<string, unknown>> => {
  const { rows } = await app.get<SheetPage>('/tracks?limit=200');
  return rows.find(({ values }) => values.title === title)!.values;
};
/** Nothing of the page lies beside it. */
const fits = async (page: Page): Promise<void> => {
  const { scrolled, shown } = await page.evaluate(() => ({
    scrolled: document.documentElement.scrollWidth,
    shown: window.innerWidth,
  }));
  expect(scrolled).toBeLessThanOrEqual(shown);
};

test('at 390: rated, tagged and noted by ear, kept for later', async ({ browser }) => {
  const page = await held(browser, 390, 844);
  await page.goto(`${app.address}/rate?what=stars`);
  const heading = page.getByRole('article').getByRole('heading', { level: 2 });
  await expect(heading).toBeVisible();
  await fits(page);
  await page.getByRole('button', { name: 'List', exact: true }).tap();
  await page.getByRole('list', { name: 'To rate' }).getByRole('button').nth(1).tap();
  const title = (await heading.textContent())!;
  await page.getByRole('button', { name: 'Energy 70' }).tap();
  await page.getByRole('button', { name: /^dark/ }).tap();
  await page.getByRole('button', { name: /^Hear later/ }).tap();
  await page.getByRole('radio', { name: '4 stars' }).tap();
  await page.getByText('None; several separated by semicolons').tap();
  await expect(page.locator('input:focus')).toHaveCount(1);
  await page.keyboard.type('warm; late');
  await page.keyboard.press('Enter');
  const notes = page.getByLabel('Notes');
  await notes.fill('for the boathouse');
  await notes.blur();
  await settled(
    () => valuesOf(title),
    (values) => values.notes === 'for the boathouse' && values.rating === 4,
  );
  expect(await valuesOf(title)).toMatchObject({
    ...{ energy: 70, moods: ['dark'], hearLater: true, freeTags: ['warm', 'late'] },
  });
  await page.getByRole('button', { name: /^Next/ }).last().tap();
  await expect(heading).not.toHaveText(title);
  await page.context().close();
});

test('at 390: a track is found, heard and put into a new playlist; the list is opened', async ({ browser }) => {
  const page = await held(browser, 390, 844);
  await page.goto(`${app.address}/today`);
  await fits(page);
  await page
    .getByRole('navigation', { name: 'Stages' })
    .getByRole('link', { name: /^Tracks/ })
    .tap();
  await expect(page.getByRole('radio', { name: 'Tracks' })).toBeChecked();
  await fits(page);
  await page.getByRole('radio', { name: 'Filters' }).tap();
  await page.getByRole('searchbox').first().fill('lamp');
  await page.getByRole('radio', { name: 'Tracks' }).tap();
  const row = page.getByRole('row').nth(1);
  await expect(row).toContainText(/lamp/i);
  await row.tap();
  await page.getByRole('radio', { name: 'Inspector' }).tap();
  await page.getByRole('button', { name: 'Add to…' }).last().tap();
  await page.getByPlaceholder('Name of a list, there or new').fill('From the phone');
  await page.getByText(/New playlist/).tap();
  await settled(
    () => app.get<ListLine[]>('/lists'),
    (lists) => lists.some(({ name, tracks }) => name === 'From the phone' && tracks === 1),
  );
  const { id } = (await app.get<ListLine[]>('/lists')).find(({ name }) => name === 'From the phone')!;
  expect((await app.get<ListContents>(`/lists/${id}`)).entries).toHaveLength(1);
  await page.goto(`${app.address}/arrange`);
  await page.getByRole('radio', { name: 'Lists' }).tap();
  await page.getByText('From the phone').first().tap();
  await page.getByRole('radio', { name: 'Tracks' }).tap();
  await expect(page.locator('[data-entry]')).toHaveCount(1);
  await fits(page);
  await page.context().close();
});

test('at 390 the rest of the pages can be read too', async ({ browser }) => {
  const page = await held(browser, 390, 844);
  const rest = ['intake', 'clean', 'clean/completeness', 'disk', 'disk/duplicates', 'handover', 'changes'];
  for (const place of [...rest, 'backups', 'backups/music', 'bundles']) {
    await page.goto(`${app.address}/${place}`);
    await expect(page.getByRole('main').or(page.getByRole('region')).first()).toBeVisible();
    await fits(page);
  }
  // What a change did, and taking it back, below the list of changes.
  await page.goto(`${app.address}/changes`);
  await page.locator('[data-set]').first().tap();
  await page.getByRole('complementary', { name: 'What it did' }).getByRole('button', { name: /^Undo/ }).tap();
  await expect(page.locator('[data-set]').first()).toContainText(/^.*Undo:/);
  await page.context().close();
});

test('at 1024 the columns stand beside each other, and a row is chosen and rated by touch', async ({ browser }) => {
  const page = await held(browser, 1024, 768);
  for (const stage of ['today', 'intake', 'tracks', 'clean', 'arrange', 'disk', 'handover', 'changes']) {
    await page.goto(`${app.address}/${stage}`);
    await expect(page.getByRole('navigation', { name: 'Stages' })).toBeVisible();
    await fits(page);
  }
  await page.goto(`${app.address}/tracks`);
  await page.getByRole('row').nth(3).tap();
  const inspector = page.getByRole('complementary', { name: /inspector|track/i }).last();
  await expect(inspector).toBeVisible();
  expect(await page.getByRole('radio', { name: 'Filters' }).count()).toBe(0);
  await page.context().close();
});
