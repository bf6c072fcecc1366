/** Tempo, grid and key set right by hand: seen at once, kept when measured again, taken back. */
import { expect, test } from '@playwright/test';
import type { RunProgress, SheetPage, TrackDetails } from '@early-set/core/api/types';
import { settled, startDemo, watchErrors, type App } from './app.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
});
test.afterAll(() => end?.());

test('half, a nudge and another key by hand; measuring again leaves them; undo takes them back', async ({ page }) => {
  const errors = watchErrors(page);
  const { rows } = await app.get<SheetPage>('/tracks?limit=500&sort=title');
  const track = rows.find((r) => typeof r.values.bpm === 'number' && r.values.bpm > 100 && r.values.tempoSteady)!;
  const now = () => app.get<TrackDetails>(`/tracks/${track.id}`);
  const before = await now();
  const bpm = Number(before.values.bpm),
    start = Number(before.values.gridStartSeconds);
  await page.goto(`${app.address}/tracks?find=${encodeURIComponent(String(track.values.path).split('/').at(-1)!)}`);
  await page.locator(`[data-track="${track.id}"]`).click();
  await page.getByRole('tab', { name: 'Sound' }).click();
  const tempo = page.getByRole('region', { name: 'Tempo' });

  await tempo.getByRole('button', { name: 'Half the tempo' }).click();
  await expect(page.locator(`[data-track="${track.id}"]`)).toContainText((bpm / 2).toFixed(2));
  await expect(tempo).toContainText('set by hand');
  for (const name of ['Move the grid 10 ms later', 'Move the grid 1 ms earlier']) {
    const was = Number((await now()).values.gridStartSeconds);
    await tempo.getByRole('button', { name }).click();
    await settled(now, (t) => t.values.gridStartSeconds !== was);
  }
  expect(Number((await now()).values.gridStartSeconds)).toBeCloseTo(start + 0.009, 6);
  await expect(tempo).toContainText(`${(start + 0.009).toFixed(3)} s`);

  const other = page.getByRole('region', { name: 'Key' }).getByRole('button', { name: /^Use / }).first();
  await other.click();
  const changed = await settled(now, (t) => t.values.key !== before.values.key);
  expect(changed.origins.key!.origin).toBe('typed');

  await app.post('/analysis', { selection: { ids: [track.id] } });
  await settled(
    () => app.get<RunProgress[]>('/runs'),
    (runs) => runs.every((r) => r.state !== 'running'),
  );
  const again = await now();
  expect([again.values.bpm, again.values.gridStartSeconds, again.values.key]).toEqual([
    changed.values.bpm,
    changed.values.gridStartSeconds,
    changed.values.key,
  ]);

  await page.locator('#sheet').focus();
  for (let i = 0; i < 4; i++) {
    const was = JSON.stringify((await now()).values);
    await page.keyboard.press('Control+z');
    await settled(now, (t) => JSON.stringify(t.values) !== was);
  }
  const back = await now();
  expect([back.values.bpm, back.values.gridStartSeconds, back.values.key]).toEqual([
    before.values.bpm,
    before.values.gridStartSeconds,
    before.values.key,
  ]);
  await expect(tempo).not.toContainText('set by hand');
  expect(errors).toEqual([]);
});
