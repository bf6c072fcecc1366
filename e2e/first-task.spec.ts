import AxeBuilder from '@axe-core/playwright';
import { expect, test, type Page } from '@playwright/test';
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ListContents, ListLine, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, watchRequests, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

const rows = (page: Page) => page.locator('[data-track]');
const listNamed = async (name: string): Promise<ListContents> => {
  const line = (await app.get<ListLine[]>('/lists')).find((l) => l.name === name)!;
  return app.get<ListContents>(`/lists/${line.id}`);
};

test('with the mouse: find house between 118 and 126, five into a playlist, order them, export, play the file', async ({
  page,
}) => {
  const errors = watchErrors(page);
  await page.goto(`${app.address}/`);
  await page.getByRole('link', { name: /^Tracks/ }).click();
  await expect(rows(page).first()).toBeVisible();
  await page.getByRole('button', { name: /^Tempo: all/ }).click();
  await page.getByLabel('From').fill('118');
  await page.getByLabel('to', { exact: true }).fill('126');
  await page.getByRole('button', { name: 'Narrow' }).click();
  await page
    .getByRole('complementary', { name: 'Filters' })
    .getByRole('button', { name: /^House \d/ })
    .click();
  await expect(page).toHaveURL(/tempo=118-126.*genre=House/);
  await expect(page.getByRole('button', { name: 'Take off the filter 118–126 BPM' })).toBeVisible();
  const expected = await app.get<SheetPage>(
    `/tracks?limit=500&where=${encodeURIComponent(
      JSON.stringify({
        all: [
          { field: 'bpm', test: 'between', low: 118, high: 126 },
          { field: 'genre', test: 'one of', values: ['House'] },
        ],
      }),
    )}`,
  );
  expect(expected.total).toBeGreaterThanOrEqual(5);
  await expect(page.getByTestId('matching')).toHaveText(String(expected.total));
  await page.getByRole('columnheader', { name: 'BPM' }).getByRole('button').click();
  await expect(page).toHaveURL(/sort=bpm%3Aasc/);

  await rows(page).nth(0).click();
  await rows(page)
    .nth(4)
    .click({ modifiers: ['Shift'] });
  await expect(page.getByText('5 chosen')).toBeVisible();
  await page.getByRole('button', { name: 'Add to…' }).first().click();
  await page.getByPlaceholder('Name of a list, there or new').fill('First hour');
  await page.getByText('New playlist“First hour”').click();
  await expect(page.getByText('New playlist "First hour"')).toBeVisible();

  await page.getByRole('link', { name: /^Arrange/ }).click();
  await expect(page.getByRole('heading', { name: 'First hour' })).toBeVisible();
  const before = (await listNamed('First hour')).entries.map((e) => e.id);
  expect(before).toHaveLength(5);
  // Dragging the last to the top.
  const handles = page.getByRole('button', { name: /^Move / });
  const from = (await handles.nth(4).boundingBox())!,
    to = (await handles.nth(0).boundingBox())!;
  await page.mouse.move(from.x + 8, from.y + 12);
  await page.mouse.down();
  await page.mouse.move(from.x + 8, from.y - 30, { steps: 5 });
  await page.mouse.move(to.x + 8, to.y + 2, { steps: 12 });
  await page.mouse.up();
  const after = await settled(
    async () => (await listNamed('First hour')).entries.map((e) => e.id),
    (ids) => ids[0] === before[4],
  );
  expect(after).toEqual([before[4], before[0], before[1], before[2], before[3]]);

  await page.getByRole('button', { name: 'Export…' }).click();
  await expect(page.getByLabel('Preview')).toContainText('#EXTM3U');
  const downloading = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Download First hour.m3u8' }).click();
  const file = join(app.folder, 'First hour.m3u8');
  await (await downloading).saveAs(file);
  const lines = readFileSync(file, 'utf8')
    .split('\n')
    .filter((l) => l && !l.startsWith('#'));
  expect(lines).toHaveLength(5);
  for (const line of lines) {
    const played = spawnSync('ffmpeg', ['-v', 'error', '-i', line, '-f', 'null', '-'], { encoding: 'utf8' });
    expect(played.stderr).toBe('');
    expect(played.status).toBe(0);
  }
  expect(errors).toEqual([]);
});

test('the same task by keys alone, in under eighty', async ({ page }) => {
  let pressed = 0;
  const press = async (...keys: string[]): Promise<void> => {
    for (const key of keys) {
      await page.keyboard.press(key);
      pressed++;
    }
  };
  const type = (text: string): Promise<void> => press(...[...text]);
  /** From the list of actions: typed until it is the one that is offered first. */
  const act = async (typed: string, action: string | RegExp): Promise<void> => {
    await press('Control+k');
    await expect(page.getByPlaceholder('Type what you want to do')).toBeFocused();
    await type(typed);
    await expect(page.locator('[cmdk-item][data-selected=true]')).toHaveText(action);
    await press('Enter');
    await expect(page.getByRole('dialog', { name: 'All actions' })).toBeHidden();
  };
  await page.goto(`${app.address}/`);
  await expect(page.getByRole('link', { name: /^Tracks/ })).toBeVisible();
  await act('tracks', 'Go to Tracks');
  await expect(rows(page).first()).toBeVisible();
  await act('filter te', 'Filter by tempo…');
  await expect(page.getByLabel('From')).toBeFocused();
  await type('118');
  await press('Tab');
  await type('126');
  await press('Enter');
  await expect(page).toHaveURL(/tempo=118-126/);
  await act('house', 'Filter by genre: House');
  await expect(page).toHaveURL(/genre=House/);
  await act('sort bpm', 'Sort by BPM');
  await expect(page).toHaveURL(/sort=bpm%3Aasc/);
  await expect(page.getByRole('columnheader', { name: 'BPM' })).toHaveAttribute('aria-sort', 'ascending');
  await expect(page.locator('#sheet')).toBeFocused();
  await press('ArrowDown', ...Array<string>(4).fill('Shift+ArrowDown'));
  await expect(page.getByText('5 chosen')).toBeVisible();
  await press('a');
  await expect(page.getByPlaceholder('Name of a list, there or new')).toBeFocused();
  await type('Ebb');
  await expect(page.locator('[cmdk-item][data-selected=true]')).toContainText('New playlist');
  await press('Enter');
  await expect(page.getByText('New playlist "Ebb"')).toBeVisible();
  await act('ebb', 'Open the playlist Ebb');
  const list = page.getByRole('grid', { name: 'Tracks of Ebb' });
  await expect(list).toBeFocused();
  const before = (await listNamed('Ebb')).entries.map((e) => e.id);
  await press('ArrowDown', 'Alt+ArrowDown');
  await expect
    .poll(async () => (await listNamed('Ebb')).entries.map((e) => e.id))
    .toEqual([before[1], before[0], ...before.slice(2)]);
  await act('export', /^Export/);
  await expect(page.getByLabel('Preview')).toContainText('#EXTM3U');
  const downloading = page.waitForEvent('download');
  await press('Enter');
  expect((await downloading).suggestedFilename()).toBe('Ebb.m3u8');
  expect(pressed).toBeLessThan(80);
});

test('with the keyboard alone: find, choose, add, order, take back', async ({ page }) => {
  await page.goto(`${app.address}/tracks`);
  await expect(rows(page).first()).toBeVisible();
  await page.keyboard.press('/');
  await page.getByRole('searchbox', { name: 'Find in every field' }).press('k');
  await page.keyboard.type('assar');
  await page.getByRole('button', { name: 'Take off the filter “kassar”' }).waitFor();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByText('2 chosen')).toBeVisible();
  await page.keyboard.press('a');
  await expect(page.getByPlaceholder('Name of a list, there or new')).toBeFocused();
  await page.keyboard.type('By keys');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await expect
    .poll(async () => (await app.get<ListLine[]>('/lists')).filter((l) => l.name === 'By keys').map((l) => l.tracks))
    .toEqual([2]);
  await page.keyboard.press('Control+k');
  await expect(page.getByPlaceholder('Type what you want to do')).toBeFocused();
  await page.keyboard.type('Go to Arrange');
  await page.keyboard.press('Enter');
  const line = (await app.get<ListLine[]>('/lists')).find((l) => l.name === 'By keys')!;
  await page.goto(`${app.address}/arrange/${line.id}`);
  const list = page.getByRole('grid', { name: 'Tracks of By keys' });
  await list.focus();
  const before = (await app.get<ListContents>(`/lists/${line.id}`)).entries.map((e) => e.entryId);
  if (line.kind === 'playlist') {
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Alt+ArrowDown');
    await expect
      .poll(async () => (await app.get<ListContents>(`/lists/${line.id}`)).entries.map((e) => e.entryId))
      .toEqual([...before].reverse());
    await page.keyboard.press('Control+z');
    await expect
      .poll(async () => (await app.get<ListContents>(`/lists/${line.id}`)).entries.map((e) => e.entryId))
      .toEqual(before);
    await page.keyboard.press('Control+Shift+z');
    await expect
      .poll(async () => (await app.get<ListContents>(`/lists/${line.id}`)).entries.map((e) => e.entryId))
      .toEqual([...before].reverse());
  }
  await list.focus();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Delete');
  await expect.poll(async () => (await app.get<ListContents>(`/lists/${line.id}`)).entries.length).toBe(1);
});

test('a field is typed over, shown as done, and taken back by its toast', async ({ page }) => {
  await page.goto(`${app.address}/tracks?find=lamp+room`);
  await rows(page).first().click();
  const inspector = page.getByRole('complementary', { name: 'Inspector' });
  await inspector.getByRole('button', { name: 'House', exact: true }).click();
  await inspector.getByRole('combobox', { name: 'Genre' }).fill('Deep House; Dub');
  await page.keyboard.press('Enter');
  await expect(page.getByText('Genre on one track')).toBeVisible();
  await expect(rows(page).first()).toContainText('Deep House; Dub');
  const id = Number(await rows(page).first().getAttribute('data-track'));
  expect((await app.get<TrackDetails>(`/tracks/${id}`)).values.genre).toEqual(['Deep House', 'Dub']);
  await page.getByRole('button', { name: 'Undo' }).first().click();
  await expect.poll(async () => (await app.get<TrackDetails>(`/tracks/${id}`)).values.genre).toEqual(['House']);
  await page.goto(`${app.address}/changes`);
  await expect(page.locator('[data-set]').first()).toContainText('Undo: Genre on one track');
});

test('fit: every row says how well it follows, best first, with reasons', async ({ page }) => {
  await page.goto(`${app.address}/tracks?find=oilskin+lamps`);
  await rows(page).first().click();
  await page.getByRole('button', { name: 'Show what fits' }).click();
  await page.getByRole('button', { name: /Take off the filter “oilskin lamps”/ }).click();
  // The rows are those of everything now, and stay where they are.
  await expect(page.getByTestId('matching')).toHaveText('30');
  const first = rows(page).first();
  await expect(first).toContainText('Oilskin Lamps');
  await expect(first.getByRole('gridcell').last()).toHaveText('100');
  await first.getByRole('gridcell').last().locator('span').hover();
  await expect(page.getByRole('tooltip')).toContainText('same tempo');
});

test('audition plays what browsers can and cannot play, and jumps by keys', async ({ page }) => {
  for (const format of ['MP3', 'AIFF', 'Opus']) {
    await page.goto(`${app.address}/tracks?format=${format}`);
    await rows(page).first().click();
    await page.keyboard.press('Space');
    const strip = page.getByRole('region', { name: 'Audition' });
    await expect(strip.getByRole('button', { name: 'Pause' })).toBeVisible();
    await expect
      .poll(async () => Number(await strip.getByRole('slider').getAttribute('aria-valuenow')), {
        message: `${format} plays`,
      })
      .toBeGreaterThan(0);
    await page.keyboard.press('.');
    await expect
      .poll(async () => Number(await strip.getByRole('slider').getAttribute('aria-valuenow')), {
        message: `${format} jumps`,
      })
      .toBeGreaterThanOrEqual(30);
    await expect(strip.getByText(/level-matched/)).toBeVisible();
    await page.keyboard.press('Space');
    await expect(strip.getByRole('button', { name: 'Play', exact: true })).toBeVisible();
  }
});

test('two tabs on one playlist: both see every entry, numbers stay right', async ({ page, context }) => {
  const { rows: tracks } = await app.get<SheetPage>('/tracks?limit=6');
  const { listId } = await app.post<{ listId: string }>('/lists', {
    kind: 'playlist',
    name: 'Two tabs',
    selection: { ids: tracks.map((t) => t.id) },
  });
  const other = await context.newPage();
  await Promise.all([page.goto(`${app.address}/arrange/${listId}`), other.goto(`${app.address}/arrange/${listId}`)]);
  const entries = (p: Page) => p.locator('[data-entry]');
  await expect(entries(page)).toHaveCount(6);
  await expect(entries(other)).toHaveCount(6);
  await entries(page).nth(0).click();
  await page.getByRole('grid', { name: 'Tracks of Two tabs' }).focus();
  await page.keyboard.press('Delete');
  await expect(entries(other)).toHaveCount(5);
  await entries(other).nth(4).click();
  await other.getByRole('grid', { name: 'Tracks of Two tabs' }).focus();
  await other.keyboard.press('Alt+ArrowUp');
  const order = await settled(
    async () => (await app.get<ListContents>(`/lists/${listId}`)).entries.map((e) => e.id),
    (ids) => ids[3] === tracks[5]!.id,
  );
  expect(order).toEqual([1, 2, 3, 5, 4].map((i) => tracks[i]!.id));
  const seen = (p: Page): Promise<(string | null)[]> =>
    entries(p).evaluateAll((nodes) => nodes.map((n) => n.getAttribute('data-entry')));
  const { entries: now } = await app.get<ListContents>(`/lists/${listId}`);
  for (const p of [page, other]) await expect.poll(() => seen(p)).toEqual(now.map((e) => e.entryId));
});

test('files dropped on the page arrive with progress, are measured, and what is not music is refused by name', async ({
  page,
}) => {
  await page.goto(`${app.address}/intake`);
  const source = join(app.music, 'Crates/House/Odette Kassar - Eel Grass.ogg');
  const part = join(app.folder, 'part.ogg');
  execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', source, '-t', '20', '-c', 'copy', part]);
  await page.getByLabel('Files to take in').setInputFiles([
    { name: 'dropped.ogg', mimeType: 'audio/ogg', buffer: readFileSync(part) },
    { name: 'twin.ogg', mimeType: 'audio/ogg', buffer: readFileSync(source) },
    { name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('x') },
  ]);
  await expect(page.getByText('1 file arrived in Demo music')).toBeVisible();
  await expect(page.getByText('notes.txt: text, not music')).toBeVisible();
  await expect(
    page.getByText(/^twin.ogg is here already, as Crates\/House\/Odette Kassar - Eel Grass.ogg/),
  ).toBeVisible();
  expect(readFileSync(join(app.music, 'Dropped here/dropped.ogg')).equals(readFileSync(part))).toBe(true);
  expect(existsSync(join(app.music, 'Dropped here/twin.ogg'))).toBe(false);
  await settled(
    () =>
      app.get<SheetPage>(`/tracks?where=${encodeURIComponent(JSON.stringify({ test: 'words', text: 'dropped.ogg' }))}`),
    (p) => p.rows[0]?.values.analysisState === 'done',
  );
});

test('the desk is folded, its layout saved, exported, left and brought back from the file', async ({ page }) => {
  await page.goto(`${app.address}/tracks`);
  await expect(rows(page).first()).toBeVisible();
  const width = (id: string) =>
    page.locator(`[data-panel]#${id}`).evaluate((node) => Math.round(node.getBoundingClientRect().width));
  const drawn = [await width('left'), await width('right')];
  await page.keyboard.press(']');
  await expect.poll(() => width('right')).toBe(0);
  await page.reload();
  await expect(rows(page).first()).toBeVisible();
  await expect.poll(() => width('right')).toBe(0);
  await page.getByRole('button', { name: 'Layouts' }).click();
  await page.getByLabel('Name of this layout').fill('Only the sheet');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Export Only the sheet' }).click();
  const file = await (await download).path();
  await page.getByRole('button', { name: 'Reset' }).click();
  await expect.poll(async () => [await width('left'), await width('right')]).toEqual(drawn);
  await page.getByRole('button', { name: 'Layouts' }).click();
  await page.getByRole('button', { name: 'Remove Only the sheet' }).click();
  await expect(page.getByRole('button', { name: 'Only the sheet', exact: true })).toHaveCount(0);
  await page.getByLabel('Layout file').setInputFiles(file);
  await expect.poll(() => width('right')).toBe(0);
  await page.getByRole('button', { name: 'Layouts' }).click();
  await expect(page.getByRole('button', { name: 'Only the sheet', exact: true })).toBeVisible();
  await page
    .getByLabel('Layout file')
    .setInputFiles({ name: 'shopping.json', mimeType: 'application/json', buffer: Buffer.from('{"milk":2}') });
  await expect(page.getByText('shopping.json: This is not a layout of Early Set')).toBeVisible();
});

for (const scheme of ['light', 'dark'] as const) {
  test(`nothing for axe to find, ${scheme === 'light' ? 'day' : 'night'}`, async ({ browser }) => {
    const context = await browser.newContext({ colorScheme: scheme, viewport: { width: 1280, height: 800 } });
    const page = await context.newPage();
    const rest = watchRequests(page);
    // By night only the colours are others, and the pages share them.
    const night = ['/tracks?genre=House', '/arrange', '/clean', '/disk', '/today'];
    const day = [
      ...night,
      '/arrange/all',
      '/arrange/to-find',
      '/intake',
      '/changes',
      '/backups',
      '/backups/music',
      '/bundles',
      '/bundles?part=read',
      '/clean/completeness',
      '/clean/catalogue',
      '/rate?what=stars',
      '/disk/others',
      '/handover',
    ];
    for (const path of scheme === 'light' ? day : night) {
      await page.goto(`${app.address}${path}`);
      await rest();
      if (path.startsWith('/tracks')) {
        await rows(page).first().click();
        await page.getByRole('tab', { name: 'Sound' }).click();
        await expect(page.getByText('Integrated')).toBeVisible();
      }
      if (path === '/clean') {
        await expect(page.getByRole('grid', { name: 'What would change' })).toBeVisible();
        await page.getByRole('button', { name: /^4\. / }).click();
      }
      if (path === '/arrange/all') await expect(page.locator('[data-list]').first()).toBeVisible();
      if (path === '/clean/completeness') await expect(page.getByRole('region', { name: 'Per field' })).toBeVisible();
      if (path.startsWith('/rate')) await expect(page.getByRole('group', { name: 'Moods' })).toBeVisible();
      const axe = new AxeBuilder({ page });
      const { violations } = await (scheme === 'light' ? axe : axe.withRules('color-contrast')).analyze();
      expect(
        violations.map(
          (v) =>
            `${path} ${v.id}: ${v.nodes
              .slice(0, 3)
              .map((n) => n.html.slice(0, 160))
              .join(' | ')}`,
        ),
      ).toEqual([]);
    }
    await context.close();
  });
}
