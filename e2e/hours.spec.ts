/** Radio hours: made from a format clock, judged, changed by hand and filled, on the real application. */
import { expect, test, type Locator, type Page } from '@playwright/test';
import type { HourContents, HourLine } from '@early-set/core/api/hours';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ListLine, TrackDetails } from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

/** A quarter of an hour: the demo's tracks are short, and only some are here. */
const CLOCK = {
  version: 1,
  name: 'Harbour quarter',
  seconds: 900,
  items: [
    { item: 'spoken', name: 'News', seconds: 60, fixed: { at: 0 } },
    { item: 'link', name: 'Good evening', seconds: 20, overIntro: 6 },
    { item: 'filler', name: 'Music', most: 6 },
    { item: 'spoken', name: 'Headlines', seconds: 60, fixed: { at: 450 } },
    { item: 'track', name: 'Shanty', from: { field: 'genre', test: 'one of', values: ['Sea shanty'] } },
    { item: 'filler', name: 'Music', most: 6 },
  ],
  rules: [
    { rule: 'in a row', what: 'genre', most: 6, hard: true },
    { rule: 'apart', what: 'artist', minutes: 10, weight: 10 },
  ],
};

const rowOf = (page: Page, line: HourLine): Locator => page.locator(`[data-entry="${line.entryId}"]`);
const length = (page: Page): Locator => page.getByTestId('hour-length');
const undo = async (page: Page): Promise<void> => {
  await page.locator('#hour-items').focus();
  await page.keyboard.press('Control+z');
};

test('an hour is made, its open slot says why, a broken rule shows, what lands is taken, slots are filled', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const { listId: clockId } = await app.post<{ listId: string }>('/clocks', { clock: CLOCK });
  await page.goto(`${app.address}/arrange`);
  await page.getByRole('tree', { name: 'Format clocks' }).getByText('Harbour quarter').click();
  await expect(page).toHaveURL(new RegExp(clockId));
  await page.getByRole('button', { name: 'Make hours…' }).click();
  const dialog = page.getByRole('dialog', { name: 'Make hours' });
  await dialog.getByLabel('First day').fill('2031-03-04');
  await dialog.getByLabel('From').fill('19:00');
  await dialog.getByRole('button', { name: 'Make 1 hour' }).click();
  await expect(page.getByRole('heading', { name: 'Tue 4 Mar, 19:00' })).toBeVisible();
  const id = page.url().split('/').at(-1)!;
  const hour = (): Promise<HourContents> => app.get<HourContents>(`/hours/${id}`);
  const made = await hour();
  // The hour after it is made in the same breath where a clock is shorter than one.
  const hours = (await app.get<ListLine[]>('/lists')).filter((l) => l.kind === 'hour');
  expect(hours.map((l) => l.onAirAt)).toEqual([0, 1, 2, 3].map((i) => made.info.onAirAt! + i * 900));
  expect(made.rules.find((r) => r.hard)?.state).toBe('kept');
  expect(Math.abs(made.lines.find((l) => l.name === 'Headlines')!.off!)).toBeLessThan(1);

  // Why a slot stays open.
  await length(page).getByRole('button', { name: '1 open slot' }).click();
  const slot = made.lines.find((l) => l.kind === 'open')!;
  await expect(rowOf(page, slot)).toContainText('no track meets its condition');
  const panel = page.getByRole('region', { name: 'Tracks that land on time' });
  await expect(panel).toContainText('No track is left that this slot takes.');

  // A rule is broken by hand, seen, and taken back.
  const rules = page.getByRole('region', { name: 'Rules of this hour' });
  const first = made.lines.find((l) => l.kind === 'track')!;
  await rowOf(page, first).click();
  const breaking = panel.locator('[data-instead]', { hasText: 'breaks:' }).first();
  const taken = Number(await breaking.getAttribute('data-instead'));
  await breaking.dblclick();
  await settled(hour, (h) => h.lines.some((l) => l.trackId === taken));
  await expect(rules).toContainText('broken');
  await expect(
    page
      .locator('#hour-items')
      .getByLabel(/Same artist/)
      .first(),
  ).toBeVisible();
  await undo(page);
  await settled(hour, (h) => h.lines.some((l) => l.entryId === first.entryId));

  // A longer link makes the headlines late; by key, another track is taken that lands.
  const link = made.lines.find((l) => l.name === 'Good evening')!;
  await rowOf(page, link).click();
  await page.getByRole('region', { name: 'Item in hand' }).getByLabel('Length').fill('0:32');
  await page.keyboard.press('Enter');
  const headlines = ({ lines }: HourContents): HourLine => lines.find((l) => l.name === 'Headlines')!;
  const late = await settled(hour, (h) => headlines(h).off! > 11);
  await expect(rowOf(page, headlines(late))).toContainText(/\+0:1[23]/);
  const before = late.lines.slice(0, late.lines.indexOf(headlines(late))).filter((l) => l.kind === 'track');
  const longest = before.reduce((a, b) => (a.seconds >= b.seconds ? a : b));
  await page.locator('#hour-items').focus();
  for (let i = late.lines.findIndex((l) => l.entryId === link.entryId); i < late.lines.indexOf(longest); i++)
    await page.keyboard.press('ArrowDown');
  await expect(panel).toContainText(`In the place of ${longest.name}`);
  await expect(panel.locator('[data-instead]').first()).toBeVisible();
  await page.keyboard.press('f');
  await expect(panel.locator('[data-instead]').first()).toBeFocused();
  await page.keyboard.press('Enter');
  const better = await settled(hour, (h) => Math.abs(headlines(h).off!) < Math.abs(headlines(late).off!));
  expect(better.lines.some((l) => l.entryId === longest.entryId)).toBe(false);

  // A slot that is left open is filled again, as a draft.
  const last = better.lines.findLast((l) => l.kind === 'track')!;
  await rowOf(page, last).click();
  await page.locator('#hour-items').focus();
  await page.keyboard.press('Delete');
  await expect(length(page)).toContainText('2 open slots');
  await page.getByRole('button', { name: 'Fill open slots' }).click();
  const draft = page.getByRole('region', { name: 'Draft of the filling' });
  await expect(draft).toContainText('1 slot filled, 1 stays open');
  expect((await hour()).lines.filter((l) => l.kind === 'open')).toHaveLength(2);
  await draft.getByRole('button', { name: 'Apply' }).click();
  await expect(length(page)).toContainText('1 open slot');
  const filled = await hour();
  expect(filled.lines.filter((l) => l.kind === 'track')).toHaveLength(
    made.lines.filter((l) => l.kind === 'track').length,
  );
  expect(errors).toEqual([]);
});

test('the running order is printed; the playout’s log comes back as use, and the month is reported', async ({
  page,
  context,
}) => {
  const errors = watchErrors(page);
  const line = (await app.get<ListLine[]>('/lists')).find((l) => l.kind === 'hour')!;
  const { lines } = await app.get<HourContents>(`/hours/${line.id}`);
  await page.goto(`${app.address}/arrange/${line.id}`);
  await page.getByRole('button', { name: 'Running order' }).click();
  const opened = context.waitForEvent('page');
  await page.getByRole('menuitem', { name: 'Print or send' }).click();
  const paper = await opened;
  await expect(paper.getByRole('heading', { name: line.name })).toBeVisible();
  await expect(paper.getByRole('row')).toHaveCount(lines.length + 1);
  await expect(paper.getByRole('row', { name: /Headlines/ })).toContainText('exactly at 19:07:30');
  await paper.close();
  await page.getByRole('button', { name: 'Running order' }).click();
  const downloading = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Download as CSV' }).click();
  const file = join(app.folder, 'order.csv');
  await (await downloading).saveAs(file);
  expect(readFileSync(file, 'utf8').split('\r\n')[1]).toMatch(/^19:00:00,spoken,News,/);

  const [played] = lines.filter((l) => l.kind === 'track');
  const quoted = (text: string): string => `"${text.replaceAll('"', '""')}"`;
  const log = [
    'time;title;artist;seconds',
    `2031-03-04T19:01:20;${quoted(played!.name)};${quoted(played!.artist)};61`,
    `2031-03-05T19:01:20;${quoted(played!.name)};${quoted(played!.artist)};61`,
    '2031-03-05T19:05:00;A visitor;Nobody;30',
  ].join('\n');
  await page.getByRole('link', { name: 'Airplay' }).click();
  await page
    .getByLabel('A playout log')
    .setInputFiles({ name: 'march.csv', mimeType: 'text/csv', buffer: Buffer.from(log) });
  // The message is there for a moment only; what it says stays.
  await expect(page.getByTestId('airplay-sum')).toHaveText('2 tracks · 3 times on air');
  await expect(page.getByRole('row', { name: /A visitor/ })).toContainText('Nobody');
  const row = page.getByRole('row', { name: new RegExp(played!.name.replace(/[.*+?^${}()|[\]\\]/g, '.')) });
  await expect(row).toContainText('2:02');
  const track = await app.get<TrackDetails>(`/tracks/${played!.trackId}`);
  expect([track.values.timesUsed, String(track.values.lastUsed).slice(0, 10)]).toEqual([2, '2031-03-05']);
  // Taken back, it was never on air.
  await page.keyboard.press('Control+z');
  await expect(page.getByText('Nothing is known of March 2031')).toBeVisible();
  expect((await app.get<TrackDetails>(`/tracks/${played!.trackId}`)).values.timesUsed).toBeNull();
  expect(errors).toEqual([]);
});

test('a format clock is built by hand: an item more, a rule more, when it is used', async ({ page }) => {
  const errors = watchErrors(page);
  await page.goto(`${app.address}/arrange`);
  await page.getByRole('button', { name: 'New format clock' }).click();
  await page.getByRole('textbox', { name: 'Name of the format clock' }).fill('Night hour');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Night hour' })).toBeVisible();
  const clock = async (): Promise<Record<string, unknown>> => {
    const line = (await app.get<ListLine[]>('/lists')).find((l) => l.name === 'Night hour')!;
    return JSON.parse(line.clock!) as Record<string, unknown>;
  };
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await page.getByRole('menuitem', { name: 'Jingle' }).click();
  const item = page.getByRole('region', { name: 'Item in hand' });
  await item.getByLabel('Length').fill('0:12');
  await page.keyboard.press('Enter');
  await settled(clock, (c) => JSON.stringify(c.items).includes('"seconds":12'));
  await page.locator('#clock-items').focus();
  await page.keyboard.press('Alt+ArrowUp');
  await settled(clock, (c) => (c.items as { item: string }[]).at(-2)?.item === 'jingle');
  await page.getByLabel('Add a rule').selectOption({ label: 'At most 2 of a genre in a row' });
  await settled(clock, (c) => JSON.stringify(c.rules).includes('in a row'));
  await page.getByRole('button', { name: 'Add weekdays and times' }).click();
  const saturday = page.getByRole('button', { name: 'Sat' });
  await saturday.click();
  await expect(saturday).toHaveAttribute('aria-pressed', 'true');
  await settled(clock, (c) => JSON.stringify(c.times).includes('sat'));
  const whole = page.getByRole('region', { name: 'About this clock' });
  await whole.getByLabel('Explicit words not before').fill('22');
  await page.keyboard.press('Enter');
  await settled(clock, (c) => c.explicitFrom === '22:00');
  await whole.getByLabel(/^Names that are one artist/).fill('Vesna Rook; V. Rook');
  await whole.getByLabel('Length of the hour').click();
  await settled(clock, (c) => JSON.stringify(c.aliases) === '[["Vesna Rook","V. Rook"]]');
  // What makes no sense is refused with a sentence, and nothing is changed.
  await page.locator('[data-clock-item="0"]').click();
  await item.getByLabel('Begins at').fill('1:30:00');
  await page.keyboard.press('Enter');
  await expect(page.getByText('"News" is to begin after the end of the hour')).toBeVisible();
  expect(JSON.stringify((await clock()).items)).not.toContain('5400');
  expect(errors).toEqual([]);
});
