/**
 * The sound of tracks: the least certain results judged by keyboard, a page for one track, a file measured in the
 * browser.
 */
import AxeBuilder from '@axe-core/playwright';
import { expect, test } from '@playwright/test';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { CheckList, Overview, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { marksOf } from '@early-set/core/fields/marks';
import { settled, startDemo, watchErrors, watchSound, type App } from './app.ts';
import { synthesize } from '../server/testing/ffmpeg.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo((music) => {
    for (const [i, apart] of UNSURE.entries()) strokes(join(music, `Unsure ${i + 1}.wav`), apart);
    return UNSURE.length;
  }));
});
test.afterAll(() => end?.());

/** Seconds between plain strokes whose tempo could as well be half of what they say. */
const UNSURE = [0.345, 0.35, 0.33];

function strokes(path: string, apart: number): void {
  synthesize(path, `aevalsrc=0.5*sin(330*2*PI*t)*exp(-18*mod(t\\,${apart})):d=40`);
}

const details = (id: number) => () => app.get<TrackDetails>(`/tracks/${id}`);

test('a wrong tempo is halved from the check list by keyboard, the first bar moved, both taken back', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const list = await app.get<CheckList>('/check?what=tempo&below=0.95');
  expect(list.rows.length).toBeGreaterThan(1);
  const [first, second] = list.rows;
  const before = await details(first!.id)();
  await page.goto(`${app.address}/check`);
  await page.getByLabel('confidence below').selectOption('0.95');
  await expect(page.getByRole('list', { name: 'To check' }).locator('[aria-current="true"]')).toHaveAttribute(
    'data-track',
    String(first!.id),
  );
  await page.getByRole('heading', { name: 'Check what is least certain' }).click();
  await page.keyboard.press('h');
  const halved = await settled(details(first!.id), (t) => t.values.bpm !== before.values.bpm);
  expect(Number(halved.values.bpm)).toBeCloseTo(Number(before.values.bpm) / 2, 1);
  expect(halved.origins.bpm!.origin).toBe('typed');
  // It goes on to the next; keeping that one locks it.
  await expect(page.locator('[aria-current="true"][data-track]')).toHaveAttribute('data-track', String(second!.id));
  await expect(page.getByText(/ judged$/)).toBeVisible();
  await page.keyboard.press('k');
  await settled(details(second!.id), (t) => t.origins.bpm!.locked === true);

  await page.goto(`${app.address}/tracks/${first!.id}/sound`);
  await page.getByRole('button', { name: 'Zoom in' }).click();
  const lanes = page.getByTestId('lanes');
  await lanes.click({ position: { x: 300, y: 120 } });
  const stood = await details(first!.id)();
  await settled(
    () => page.evaluate(() => document.body.innerText),
    (text) => text.includes('Pause'),
  );
  await page.keyboard.press('b');
  const moved = await settled(details(first!.id), (t) => t.values.gridStartSeconds !== stood.values.gridStartSeconds);
  expect(moved.origins.gridStartSeconds!.origin).toBe('typed');

  await page.keyboard.press('Control+z');
  await settled(details(first!.id), (t) => t.values.gridStartSeconds === before.values.gridStartSeconds);
  for (const id of [second!.id, first!.id]) {
    const was = JSON.stringify([(await details(id)()).values.bpm, (await details(id)()).origins.bpm]);
    await page.keyboard.press('Control+z');
    await settled(details(id), (t) => JSON.stringify([t.values.bpm, t.origins.bpm]) !== was);
  }
  expect((await details(first!.id)()).values.bpm).toBe(before.values.bpm);
  expect((await details(second!.id)()).origins.bpm!.locked).toBeFalsy();
  expect(errors).toEqual([]);
});

test('cues and loops are added, named and taken back; edges are moved; nothing on the page is out of reach', async ({
  page,
}) => {
  const errors = watchErrors(page);
  const { rows } = await app.get<SheetPage>('/tracks?limit=500&sort=title');
  const row = rows.find(
    (r) => typeof r.values.bpm === 'number' && r.values.tempoSteady && typeof r.values.introEndSeconds === 'number',
  )!;
  const now = details(row.id);
  const sound = await watchSound(page);
  await page.goto(`${app.address}/tracks/${row.id}/sound`);
  await page.getByTestId('lanes').click({ position: { x: 320, y: 120 } });
  await settled(
    () => page.evaluate(() => document.body.innerText),
    (text) => text.includes('Pause'),
  );
  await page.keyboard.press(' ');
  await page.keyboard.press('c');
  await settled(now, (t) => marksOf(t.values.cues).length === 1);
  await page.keyboard.press('o');
  const withLoop = await settled(now, (t) => marksOf(t.values.cues).length === 2);
  const loop = marksOf(withLoop.values.cues).find((m) => m.end !== undefined)!;
  expect(loop.end! - loop.at).toBeCloseTo((4 * 4 * 60) / Number(row.values.bpm), 1);
  // The cue and the loop begin together; the second number plays the loop over and over, R leaves it.
  await page.keyboard.press('2');
  await expect(page.getByLabel('Repeats')).toBeVisible();
  const told: number[] = [];
  await expect
    .poll(
      async () => {
        const [, minutes, seconds] = /(\d+):(\d\d) \//.exec(
          await page.getByRole('region', { name: 'Audition' }).innerText(),
        )!;
        told.push(Number(minutes) * 60 + Number(seconds));
        return told.some((t, i) => t < (told[i - 1] ?? 0)) ? 'begun again' : `${told.join(' ')} ${await sound()}`;
      },
      { timeout: 60_000 },
    )
    .toBe('begun again');
  expect(Math.max(...told)).toBeLessThanOrEqual(Math.ceil(loop.end!));
  await page.keyboard.press('r');
  await expect(page.getByLabel('Repeats')).toBeHidden();
  await page.keyboard.press(' ');

  const sections = (t: TrackDetails): number => marksOf(t.values.sectionsByHand).length;
  await page.keyboard.press('s');
  const split = await settled(now, (t) => sections(t) > 0);
  expect(sections(split)).toBe((split.analysis?.result.sections.length ?? 0) + 1);
  await page.keyboard.press('Control+z');
  await settled(now, (t) => sections(t) === 0);

  await page.getByLabel('Name of cue 1').fill('Drop');
  await page.getByLabel('Name of cue 1').press('Enter');
  await settled(now, (t) => marksOf(t.values.cues).some((m) => m.name === 'Drop'));

  const edge = page.getByRole('slider', { name: 'Intro end' });
  await edge.focus();
  await page.keyboard.press('ArrowRight');
  const moved = await settled(now, (t) => t.values.introEndSeconds !== row.values.introEndSeconds);
  expect(Number(moved.values.introEndSeconds)).toBeCloseTo(Number(row.values.introEndSeconds) + 0.01, 3);
  await page.keyboard.press('Control+z');
  await settled(now, (t) => t.values.introEndSeconds === row.values.introEndSeconds);

  // Toasts that are fading are neither here nor gone.
  await expect(page.locator('[data-sonner-toast]')).toHaveCount(0);
  for (const scheme of ['light', 'dark'] as const) {
    await page.emulateMedia({ colorScheme: scheme });
    const { violations } = await new AxeBuilder({ page: page as never }).analyze();
    expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  }
  await page.goto(`${app.address}/check?what=key`);
  await expect(page.getByRole('heading', { name: 'Check what is least certain' })).toBeVisible();
  const { violations } = await new AxeBuilder({ page: page as never }).analyze();
  expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.html}`)).toEqual([]);
  expect(errors).toEqual([]);
});

test('a file dropped to be measured only is measured in the browser as the server measured it', async ({ page }) => {
  const errors = watchErrors(page);
  const { rows } = await app.get<SheetPage>('/tracks?limit=500&sort=title');
  const flac = rows.find(
    (r) => r.values.format === 'FLAC' && typeof r.values.bpm === 'number' && typeof r.values.key === 'string',
  )!;
  const before = await app.get<Overview>('/overview');
  await page.goto(`${app.address}/intake`);
  const letter = join(app.folder, 'letter.mp3');
  writeFileSync(letter, 'Dear all, '.repeat(400));
  await page.getByLabel('Files to measure only').setInputFiles([join(app.music, String(flac.values.path)), letter]);
  const table = page.getByRole('region', { name: 'Measured here' });
  await expect(table.getByRole('heading', { name: '1 file measured in this browser' })).toBeVisible({
    timeout: 60_000,
  });
  const line = table.locator('tr', { hasText: String(flac.values.path).split('/').at(-1)! });
  const figure = (v: unknown, digits: number): string => Number(v).toFixed(digits).replace('-', '−');
  await expect(line).toContainText(Number(flac.values.bpm).toFixed(2));
  await expect(line).toContainText(figure(flac.values.lufs, 1));
  await expect(line).toContainText(figure(flac.values.loudnessRangeLu, 1));
  await expect(line).toContainText(figure(flac.values.truePeakDbtp, 1));
  await expect(line).toContainText(String(flac.values.energy));
  await expect(table.locator('tr', { hasText: 'letter.mp3' })).toContainText('cannot decode');
  expect((await app.get<Overview>('/overview')).tracks).toBe(before.tracks);
  expect(errors).toEqual([]);
});
