/**
 * Every screen with its menus and dialogs is opened and its words are gathered. Words that were taken out of the page
 * stay out. With EARLY_SET_WORDS=1 (npm run words) what was gathered is written to docs/WORDS.md, by screen.
 */
import { expect, test, type Page } from '@playwright/test';
import { readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ListLine, RootLine, SheetPage } from '@early-set/core/api/types';
import { addPlover, addStick, startDemo, watchRequests, type App } from './app.ts';
import { aBundle, doubleOne, loseOne, retireOne } from './scenes.ts';
import { offences, told, wordsOf } from './words.ts';

let app: App;
let end: (() => Promise<void>) | undefined;
let names: string[] = [];
test.beforeAll(async () => {
  ({ app, end } = await startDemo());
  const { rows } = await app.get<SheetPage>('/tracks?limit=200');
  names = rows.flatMap((r) => [
    String(r.values.title ?? ''),
    String(r.values.path).split('/').at(-1)!,
    String(r.values.album ?? ''),
    ...(Array.isArray(r.values.artist) ? r.values.artist : []),
    ...(Array.isArray(r.values.genre) ? r.values.genre : []),
  ]);
  await app.post('/lists', { kind: 'playlist', name: 'Words', selection: { ids: rows.slice(0, 8).map((r) => r.id) } });
  await app.post('/lists', { kind: 'crate', name: 'More words', rule: { where: { all: [] } } });
  const { listId: clockId } = await app.post<{ listId: string }>('/clocks', {
    clock: {
      version: 1,
      name: 'Words',
      items: [
        { item: 'spoken', name: 'News', seconds: 60, fixed: { at: 0 } },
        { item: 'link', name: 'Hello', seconds: 20, overIntro: 6 },
        { item: 'track', name: 'Opener', from: { field: 'genre', test: 'one of', values: ['House'] } },
        { item: 'track', name: 'Shanty', from: { field: 'genre', test: 'one of', values: ['Sea shanty'] } },
      ],
      rules: [{ rule: 'apart', what: 'artist', minutes: 10 }],
    },
    times: [{ days: ['mon'], from: '19:00', to: '20:00' }],
  });
  await app.post('/hours', { clockId, from: 1_930_000_000 - (1_930_000_000 % 3600), hours: 1 });
});
test.afterAll(() => end?.());

const firstTrack = async (): Promise<number> => (await app.get<SheetPage>('/tracks?limit=1')).rows[0]!.id;
const press = (page: Page, name: string | RegExp): Promise<void> => page.getByRole('button', { name }).first().click();
const pressing = (name: string) => (page: Page) => press(page, name);
/** With the first track chosen. */
const chosen =
  (then: (page: Page) => Promise<unknown>) =>
  async (page: Page): Promise<void> => {
    await page.locator('[data-track]').first().click();
    await then(page);
  };
const ofBackup = (name: string) => async (page: Page) => {
  await page.locator('[data-backup]').first().click();
  await press(page, name);
};
const action = async (page: Page, words: string): Promise<void> => {
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('Type what you want to do').fill(words);
  await page.keyboard.press('Enter');
};

interface Screen {
  at: string | (() => Promise<string>);
  /** Each opens something more, whose words are gathered too. */
  more?: ((page: Page) => Promise<unknown>)[];
}
const SCREENS: Record<string, Screen> = {
  Today: { at: '/today', more: [(p) => press(p, 'Add a date')] },
  Intake: {
    at: '/intake',
    more: [
      (p) => press(p, 'Choose a folder'),
      async (p) => {
        await p.locator('button[aria-pressed]').first().click();
        await p.getByRole('button', { name: /^Look into/ }).click();
        await p.getByRole('alert').waitFor();
      },
      async (p) => {
        await press(p, 'Report');
        await p
          .getByRole('dialog')
          .getByText(/^Not taken/)
          .waitFor();
      },
    ],
  },
  'Look first': {
    at: async () => `/intake/look?path=${encodeURIComponent((await app.get<RootLine[]>('/roots'))[0]!.path)}`,
    more: [
      async (p) => {
        await p.getByRole('radio', { name: /^Here already/ }).click();
        await p.locator('[data-file]').first().click();
      },
      (p) => p.getByRole('radio', { name: /^Not taken/ }).click(),
    ],
  },
  Tracks: {
    at: '/tracks',
    more: [
      (p) => p.locator('[data-track]').first().click({ button: 'right' }),
      chosen((p) => p.keyboard.press('Space')), // the audition strip
      chosen((p) => p.getByRole('tab', { name: 'Sound' }).click()),
      chosen((p) => p.getByRole('tab', { name: 'Lists' }).click()),
      chosen((p) => p.getByRole('tab', { name: 'History' }).click()),
      (p) => press(p, 'Columns'),
      (p) => press(p, 'Measure'),
      chosen((p) => press(p, /^Cover of/)),
      chosen((p) => action(p, 'Write edits into')),
      chosen(async (p) => {
        await action(p, 'Move or copy files');
        await p.getByText(/file to move/).waitFor();
      }),
      async (p) => {
        const folder = p.getByRole('region', { name: 'Folder' }).locator('[aria-pressed]').nth(1);
        await folder.click({ button: 'right' });
        await p.getByRole('menuitem', { name: 'Move, rename or copy…' }).click();
        await p.getByLabel('Its new path').waitFor();
      },
      (p) => p.keyboard.press('Control+k'),
      (p) => p.keyboard.press('?'),
      (p) => press(p, 'Layouts'),
      (p) => press(p, 'Settings'),
      async (p) => {
        await press(p, 'Settings');
        await press(p, 'Save to a file…');
      },
    ],
  },
  'Sound of a track': { at: async () => `/tracks/${await firstTrack()}/sound` },
  'Rate by ear': { at: '/rate?what=stars', more: [(p) => press(p, 'Change the moods on the keys')] },
  Check: { at: '/check' },
  Clean: {
    at: '/clean',
    more: [
      (p) => press(p, 'Presets'),
      (p) => press(p, /^Which tracks/),
      (p) => press(p, 'Add a step'),
      ...[1, 2, 3, 4, 5].map((n) => (p: Page) => press(p, new RegExp(`^${n}\\. `))),
    ],
  },
  Completeness: { at: '/clean/completeness', more: [(p) => press(p, /^Required fields/)] },
  Catalogue: { at: '/clean/catalogue', more: [(p) => press(p, 'Look up…')] },
  Arrange: {
    at: async () => `/arrange/${(await app.get<ListLine[]>('/lists')).find((l) => l.kind === 'playlist')!.id}`,
    more: [
      (p) => press(p, /^Wished shape/),
      async (p) => {
        await press(p, 'New self-filling crate');
        await press(p, 'Condition');
        await p.getByTestId('rule-count').getByText('track').waitFor();
      },
      (p) => p.getByText('Counts for').click(),
      async (p) => {
        await p.locator('[data-entry]').first().click();
        await p.getByRole('region', { name: 'Transition' }).waitFor();
      },
      async (p) => {
        await press(p, 'New folder mirror');
        await p.getByRole('button', { name: 'Make the crates' }).waitFor();
      },
      async (p) => {
        await press(p, 'Paste a list');
        await p.getByLabel('The list as text').fill('Vesna Rook - Lamp Room\nNobody - Not here');
        await press(p, 'Match');
        await p.getByRole('button', { name: 'Make the playlist' }).waitFor();
      },
      async (p) => {
        await press(p, 'Smooth the order');
        await p
          .getByRole('button', { name: /^(Apply|Cancel)$/ })
          .first()
          .waitFor();
      },
      (p) => p.locator('[data-entry]').first().click({ button: 'right' }),
      (p) => press(p, 'Export…'),
    ],
  },
  'All lists': {
    at: '/arrange/all',
    more: [
      async (p) => {
        await p.locator('[data-list]').first().click();
        await p.keyboard.press('Control+a');
        await press(p, 'Join…');
      },
      async (p) => {
        await p.locator('[data-list]').first().click();
        await p.keyboard.press('Shift+ArrowDown');
        await press(p, 'Compare…');
        await p.getByTestId('compared').waitFor();
      },
      async (p) => {
        await p.locator('[data-list]').first().click();
        await press(p, 'Export…');
      },
      (p) => p.locator('[data-list]').first().click({ button: 'right' }),
    ],
  },
  Hour: {
    at: async () => `/arrange/${(await app.get<ListLine[]>('/lists')).find((l) => l.kind === 'hour')!.id}`,
    more: [
      async (p) => {
        await p.locator('[data-entry]').nth(2).click();
        await p.getByText(/^(In the place of|For the open slot)/).waitFor();
      },
      (p) => p.locator('[data-entry]').nth(1).click(),
      (p) => p.locator('[data-entry]').nth(2).click({ button: 'right' }),
      (p) => press(p, 'Running order'),
      async (p) => {
        await press(p, 'Fill open slots');
        await p.getByRole('region', { name: 'Draft of the filling' }).waitFor();
      },
    ],
  },
  'Format clock': {
    at: async () => `/arrange/${(await app.get<ListLine[]>('/lists')).find((l) => l.kind === 'clock')!.id}`,
    more: [
      ...[0, 1, 2].map((n) => (p: Page) => p.locator(`[data-clock-item="${n}"]`).click()),
      (p) => press(p, 'Add'),
      (p) => press(p, 'Make hours…'),
    ],
  },
  Airplay: { at: '/arrange/airplay' },
  'To find': { at: '/arrange/to-find' },
  Changes: { at: '/changes', more: [(p) => p.locator('[data-set]').first().click()] },
  Backups: {
    at: '/backups',
    more: [pressing('Back up now'), ofBackup('Restore…'), ofBackup('Remove…'), pressing('Another folder…')],
  },
  'Backups of music': { at: '/backups/music', more: [pressing('Choose a folder…')] },
  Bundles: {
    at: '/bundles',
    more: [
      (p) => p.getByRole('radio', { name: /^Chosen/ }).click(),
      (p) => p.getByRole('checkbox', { name: /^Music files/ }).check(),
    ],
  },
  Disk: {
    at: async () => {
      await loseOne(app);
      return '/disk';
    },
    more: [
      (p) => p.locator('[data-lost]').first().click(),
      async (p) => {
        await press(p, 'Find again');
        await p.getByRole('region', { name: 'Draft of what was found' }).waitFor();
        await p.locator('[data-lost]').first().click();
      },
      (p) => press(p, 'Path map…'),
    ],
  },
  Duplicates: {
    at: async () => {
      await doubleOne(app);
      return '/disk/duplicates';
    },
    more: [
      async (p) => {
        await p.locator('[data-copies]').first().waitFor();
        await p.locator('[data-copies]').first().click();
      },
    ],
  },
  'Not music': { at: '/disk/others', more: [(p) => p.locator('[data-other]').first().click()] },
  Quarantine: {
    at: async () => {
      await retireOne(app);
      return '/disk/quarantine';
    },
    more: [
      (p) => p.locator('[data-quarantined]').first().click(),
      (p) => p.getByLabel('Delete what is older, without asking').check(),
      (p) => press(p, 'Delete all…'),
    ],
  },
  'Out of place': {
    at: '/disk/places',
    more: [
      (p) => press(p, 'Add a rule'),
      async (p) => {
        await press(p, 'Add a rule');
        await p.getByRole('menuitem', { name: 'Year' }).click();
        await p.locator('[data-place]').first().click();
      },
      async (p) => {
        await p.getByRole('button', { name: 'Year', exact: true }).click();
        await press(p, 'Change');
      },
      (p) => p.getByRole('radio', { name: 'Albums' }).click(),
      async (p) => {
        await p.getByRole('radio', { name: 'Folders' }).click();
        await p.getByRole('region', { name: 'By the rule' }).locator('[aria-pressed]').first().click();
      },
    ],
  },
  Space: {
    at: '/disk/space',
    more: [
      async (p) => {
        await p.getByRole('treeitem').nth(2).click();
        await press(p, 'Put into the draft');
        await p.getByRole('region', { name: 'Draft for quarantine' }).getByText('to quarantine').waitFor();
      },
      async (p) => {
        for (const way of ['Formats', 'Quality', 'Year added', 'Use']) {
          await p.getByRole('radio', { name: way }).click();
          await p.getByRole('treeitem').nth(1).click();
        }
      },
    ],
  },
  'Other collections': {
    at: () => {
      const list = join(app.music, 'old list.m3u8');
      const [there] = readdirSync(join(app.music, 'Crates/House'));
      writeFileSync(list, `#EXTM3U\nCrates/House/${there!}\nnot there.mp3\n`);
      return Promise.resolve(`/intake/from?source=${encodeURIComponent(`list:${list}`)}`);
    },
    more: [
      async (p) => {
        await p.getByRole('button', { name: 'All', exact: true }).click();
        await p.locator('[data-track]').first().click();
        await p.keyboard.press('b');
        await p.getByRole('radio', { name: 'Leave them there' }).click();
      },
      async (p) => {
        await p.getByRole('button', { name: 'All', exact: true }).click();
        await p.locator('[data-track]').first().click({ button: 'right' });
      },
    ],
  },
  Handover: {
    at: () => addPlover(app).then(() => '/handover'),
    more: [
      ...[
        'Change: Lists',
        'Change: Paths',
        'Change: Keys',
        'What it can store',
        'Add a destination…',
        'Remove this destination…',
      ].map(pressing),
      async (p) => {
        await p.getByText('By kind of thing').click();
        await p.locator('[data-line]').first().click();
      },
    ],
  },
  'A bundle beside the library': {
    at: () => aBundle(app).then((id) => `/handover/${id}`),
    more: [pressing('Remove this bundle…'), (p) => p.getByText('By kind of thing').click()],
  },
  Stick: {
    at: async () => `/handover/stick/${await addStick(app, ['Words'])}`,
    more: ['1 choice…', 'Remove…'].map(pressing),
  },
  Playout: {
    at: async () => `/handover/stick/${await addStick(app, ['Words'], 'turnstone')}`,
    more: ['1 choice…', 'Show…'].map(pressing),
  },
};

test('every word on every screen, in menus and dialogs, is one that may be said', async ({ page }) => {
  // It goes through every screen; a busy machine takes its time.
  test.setTimeout(600_000);
  const rest = watchRequests(page);
  const gathered: Record<string, Set<string>> = {};
  for (const [name, { at, more = [] }] of Object.entries(SCREENS)) {
    const words = (gathered[name] = new Set<string>());
    for (const open of [null, ...more]) {
      await page.goto(app.address + (typeof at === 'string' ? at : await at()));
      await page.getByRole('heading').first().waitFor();
      await rest();
      if (open) {
        await open(page);
        await rest();
      }
      for (const w of await wordsOf(page)) words.add(w);
    }
    expect(words.size, `words of ${name}`).toBeGreaterThan(5);
  }
  expect(Object.entries(gathered).flatMap(([name, words]) => offences([...words]).map((o) => `${name}: ${o}`))).toEqual(
    [],
  );
  if (process.env.EARLY_SET_WORDS === '1')
    writeFileSync(join(import.meta.dirname, '../docs/WORDS.md'), told(gathered, names));
});
