/**
 * `npm run pictures`: makes the pictures of docs/screenshots anew, from a demo that runs and is measured through.
 * Start it in an empty folder whose path may be seen: EARLY_SET_DATA=/srv/skerry npm run demo
 */
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { main, ROOT, say, SetupError } from './lib/run.mjs';

const address = process.argv[2] ?? 'http://127.0.0.1:8980';
const only = process.argv.slice(3);
const out = join(ROOT, 'docs/screenshots');

const ask = async (path, body) => {
  const response = await fetch(
    `${address}/api${path}`,
    body ? { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) } : {},
  ).catch(() => null);
  if (!response?.ok) throw new SetupError(`There is no demo at ${address} that answers ${path}`);
  return response.json();
};
const find = async (title) =>
  (await ask(`/tracks?where=${encodeURIComponent(JSON.stringify({ test: 'words', text: title }))}&sort=title`)).rows[0]
    .id;

/** Changes as somebody has them after a first evening; made once. */
async function prepare() {
  if ((await ask('/overview')).measured < 84) throw new SetupError('The demo is not measured through yet');
  if ((await ask('/lists')).length === 0) throw new SetupError("The demo's lists are not made yet");
  if ((await ask('/changes?limit=1')).length > 0) return;
  await ask('/fields', {
    selection: { ids: [await find('Chain Locker')] },
    field: 'genre',
    value: 'Breakbeat; Electro',
  });
  const floor = {
    all: [
      { field: 'bpm', test: 'between', low: 116, high: 121 },
      { field: 'genre', test: 'one of', values: ['Deep House'] },
    ],
  };
  const { rows } = await ask(`/tracks?where=${encodeURIComponent(JSON.stringify(floor))}&sort=bpm&limit=3`);
  await ask('/fields', { selection: { ids: rows.map((r) => r.id) }, field: 'comment', value: 'opens the floor' });
}

/** name: what to open, and what to do there. */
const PICTURES = {
  today: { at: '/today' },
  tracks: {
    at: '/tracks',
    night: true,
    then: (page) => page.locator('#sheet [data-track]', { hasText: 'Coal Boat' }).first().click(),
  },
  backups: {
    at: '/backups',
    then: (page) => page.locator('[data-backup]').first().click(),
  },
  'sound-page': { at: async () => `/tracks/${await find('Signal Box')}/sound` },
  arrange: {
    at: async () => {
      const { id } = (await ask('/lists')).find((l) => l.name.startsWith('Slipway'));
      return `/arrange/${id}`;
    },
    async then(page) {
      await page.locator('[data-entry]').nth(3).click();
      await page.getByRole('button', { name: 'Smooth the order' }).click();
      await page.getByRole('region', { name: 'Draft of the order' }).waitFor();
    },
  },
  hour: {
    at: async () => `/arrange/${(await ask('/lists')).filter((l) => l.kind === 'hour').at(-1).id}`,
    async then(page) {
      await page.locator('[data-entry]').nth(4).click();
      await page.locator('[data-instead]').first().waitFor();
    },
  },
  /** With a folder that was moved outside before, and a scan since. */
  disk: {
    at: '/disk',
    async then(page) {
      await page.getByRole('button', { name: 'Find again' }).click();
      await page.locator('[data-lost]').nth(1).click();
      await page.getByRole('region', { name: 'Draft of what was found' }).waitFor();
    },
  },
  /** With duplicates looked for before. */
  duplicates: {
    at: '/disk/duplicates',
    then: (page) => page.locator('[data-copies]', { hasText: 'Slack Water (Boathouse Mix)' }).first().click(),
  },
  space: {
    at: '/disk/space',
    async then(page) {
      await page.locator('[data-band="Crates"]').click();
      await page
        .locator('[data-band="Old drive"]')
        .press('Delete')
        .catch(() => undefined);
    },
  },
  intake: { at: '/intake' },
  changes: {
    at: '/changes',
    then: (page) => page.locator('[data-set]', { hasText: 'Comment on 3 tracks' }).first().click(),
  },

  clean: { at: '/clean', then: inbox },
  catalogue: {
    at: '/clean',
    async then(page) {
      await page.getByRole('button', { name: 'Catalogue' }).click();
      if ((await ask('/catalogue')).latest === null) {
        await page.getByRole('button', { name: 'Look up…' }).first().click();
        await page.getByRole('button', { name: 'Look up', exact: true }).click();
      }
      await page.getByText(/^took \d+ s/).waitFor({ timeout: 120_000 });
      await page
        .getByRole('list', { name: 'Groups' })
        .getByRole('button', { name: /Harbour Wall/ })
        .click();
      await page.getByRole('grid', { name: 'Tracks of the release' }).waitFor();
    },
  },
  handover: { at: '/handover' },
  stick: { at: '/handover/stick/1' },
  playout: { at: '/handover/stick/2' },
  take: {
    at: '/intake/from?source=destination%3A1',
    async then(page) {
      await page.getByRole('button', { name: 'Put the list Bought in autumn into the basket' }).click();
      await page.locator('[data-track]').nth(1).click();
    },
  },
  rate: { at: '/rate?what=moods' },
};

async function inbox(page) {
  await page.getByRole('button', { name: /^Which tracks/ }).click();
  await page.getByLabel('Find a folder, crate or playlist').fill('Inbox');
  await page.getByRole('button', { name: /^Inbox/ }).click();
  await page.getByRole('button', { name: 'Presets' }).click();
  await page.getByRole('button', { name: /^Downloads, from name to tags/ }).click();
  await page
    .getByTestId('draft-card')
    .getByText(/drafted/)
    .waitFor();
}

main(async () => {
  mkdirSync(out, { recursive: true });
  await prepare();
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  for (const [name, { at, night, then }] of Object.entries(PICTURES)) {
    if (only.length && !only.includes(name)) continue;
    for (const colours of night ? ['day', 'night'] : ['day']) {
      const context = await browser.newContext({
        viewport: { width: 1280, height: 800 },
        colorScheme: colours === 'night' ? 'dark' : 'light',
      });
      const page = await context.newPage();
      await page.goto(address + (typeof at === 'string' ? at : await at()));
      await page.getByRole('navigation', { name: 'Stages' }).getByText('ahead').waitFor();
      await page.waitForLoadState('load');
      await page.getByRole('heading').first().waitFor();
      await then?.(page);
      await page.evaluate(() => document.fonts.ready);
      // What moves has come to rest, and what was asked for is there.
      await page.waitForFunction(
        () =>
          document.getAnimations().every((a) => a.playState !== 'running') &&
          !document.querySelector('[aria-busy="true"]'),
      );
      await page.locator('[data-sonner-toast]').first().waitFor({ state: 'detached' });
      await page.waitForTimeout(600);
      await page.screenshot({ path: join(out, `${name}-${colours}.png`) });
      say(`${name}-${colours}.png`);
      await context.close();
    }
  }
  await browser.close();
});
