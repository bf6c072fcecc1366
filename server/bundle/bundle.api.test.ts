/** Libraries go through bundles into other databases, and are the same there; broken bundles store nothing. */
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { text } from 'node:stream/consumers';
import { CATEGORIES, type BundleManifest } from '@early-set/core/bundle/manifest';
import type { BundleSteps } from '@early-set/core/api/bundles';
import { onDatabase } from '../db/dumps.ts';
import { testDatabase } from '../testing/database.ts';
import { buildKiller, dieInBundle } from '../testing/die.ts';
import { makeAudio, startHarness, type Harness } from '../testing/harness.ts';
import { camel, TABLE_PARTS } from './parts.ts';
import { anyLibrary, type Library } from './anyLibrary.ts';
import { readBundle, type BundleRead, type ReadWish } from './read.ts';
import { openSource } from './source.ts';
import { writeBundle, type BundleWish } from './write.ts';

const folder = mkdtempSync(join(tmpdir(), 'early-set-bundle-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Desk {
  databaseUrl: string;
  dataFolder: string;
  drop: () => Promise<void>;
}
let made = 0;
async function emptyDesk(): Promise<Desk> {
  const { url, drop } = await testDatabase();
  const dataFolder = join(folder, `desk-${++made}`);
  mkdirSync(dataFolder);
  return { databaseUrl: url, dataFolder, drop };
}
const ALL: BundleWish = { categories: CATEGORIES, lists: null, zip: false, music: false };
const EVERYTHING: ReadWish = { categories: CATEGORIES, folders: [], music: false };

async function read(desk: Desk, path: string, wish: Partial<ReadWish> = {}): Promise<BundleRead> {
  const source = await openSource(path);
  try {
    return await readBundle(desk, source, { ...EVERYTHING, ...wish });
  } finally {
    await source.close();
  }
}
const bundlePath = (zip = false): string => join(folder, `bundle-${++made}${zip ? '.zip' : ''}`);
const sumOf = (path: string): string => createHash('sha256').update(readFileSync(path)).digest('hex');

/** Writes a bundle by hand. */
function bundleOf({ parts, folders }: Library): string {
  const path = bundlePath();
  mkdirSync(path);
  const said = Object.entries({ ...parts, keptFiles: [] }).map(([name, lines]) => {
    const file = join(path, `${name}.jsonl`);
    writeFileSync(file, lines.map((line) => `${JSON.stringify(line)}\n`).join(''));
    return { name, lines: lines.length, sha256: sumOf(file) };
  });
  const manifest: BundleManifest = {
    ...{ format: 'early-set-bundle', version: 1, madeAt: '2026-11-01T10:00:00Z', computer: 'loft', lists: null },
    ...{ categories: [...CATEGORIES], parts: said, files: 0, folders },
  };
  writeFileSync(join(path, 'bundle.json'), JSON.stringify(manifest));
  return path;
}

const MOMENT = /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(?:\.\d+)?(?:Z|\+00:00)$/;
const calmly = (_: string, value: unknown): unknown =>
  typeof value === 'string' && MOMENT.test(value) ? Date.parse(value) : value;

/** The lines of a bundle's parts, with moments as numbers, since there are several ways to write one. */
function linesIn(path: string): Record<string, unknown[]> {
  const out: Record<string, unknown[]> = {};
  for (const name of readdirSync(path).filter((file) => file.endsWith('.jsonl')))
    out[name.replace('.jsonl', '')] = readFileSync(join(path, name), 'utf8')
      .split('\n')
      .filter(Boolean)
      .map((line) => JSON.parse(line, calmly) as unknown);
  return out;
}

test('any library that is read from a bundle is written into the same bundle', async () => {
  const desk = await emptyDesk();
  await fc.assert(
    fc.asyncProperty(anyLibrary, async (library) => {
      const tables = [...TABLE_PARTS.map(({ table }) => table), 'tracks'].join(', ');
      await onDatabase(desk.databaseUrl, (client) => client.query(`TRUNCATE ${tables} CASCADE`));
      const given = bundleOf(library),
        written = bundlePath();
      await read(desk, given);
      await writeBundle(desk, written, ALL);
      expect(linesIn(written)).toEqual(linesIn(given));
    }),
    // Each run is a second: what it finds is said at once, and not made smaller.
    { numRuns: 15, endOnFailure: true },
  );
  await desk.drop();
});

test('a bundle of the first version is read, and says the same', async () => {
  const desk = await emptyDesk(),
    zip = join(import.meta.dirname, 'fixtures/version-1.zip'),
    written = bundlePath();
  await read(desk, zip);
  await writeBundle(desk, written, ALL);
  const source = await openSource(zip);
  const now = linesIn(written);
  for (const { name } of source.manifest.parts) {
    const then = (await text(await source.open(`${name}.jsonl`))).split('\n').filter(Boolean);
    expect([name, now[name]]).toMatchObject([name, then.map((line) => JSON.parse(line, calmly) as unknown)]);
  }
  expect(now.tracks!.length).toBeGreaterThan(3);
  await source.close();
  await desk.drop();
});

describe('a library as people have it', () => {
  let h: Harness;
  let here: Desk;
  const ask = (desk: Desk, text: string): Promise<Record<string, unknown>[]> =>
    onDatabase(desk.databaseUrl, async (client) => (await client.query<Record<string, unknown>>(text)).rows);
  beforeAll(async () => {
    h = await startHarness();
    here = { databaseUrl: h.databaseUrl, dataFolder: join(h.folder, 'data'), drop: () => Promise.resolve() };
    for (const [name, hz] of [
      ['a.mp3', 220],
      ['b.flac', 330],
      ['c.ogg', 440],
    ] as const)
      makeAudio(join(h.music, name), { seconds: 2, hz, tags: { title: name, artist: 'Net Loft Seven' } });
    await h.takeIn();
    const { body } = await h.post('/lists', { kind: 'crate', name: 'Boathouse', parentId: null });
    const { listId } = body as { listId: string };
    const ids = (await h.query<{ id: number }>('SELECT id FROM tracks ORDER BY id')).map(({ id }) => id);
    await h.post('/lists', { kind: 'playlist', name: 'Friday', parentId: listId, selection: { ids } }).expect(200);
    await h.post('/lists', { kind: 'crate', name: 'All of it', rule: { where: { all: [] } } });
    await h.post('/fields', { selection: { ids }, field: 'genre', value: 'Dub; Electro' }).expect(200);
    await h.post('/fields', { selection: { ids: [ids[0]!] }, field: 'rating', value: 4 }).expect(200);
    await h.post('/undo').expect(200);
    await h.post('/presets', { name: 'Tidy', steps: [] });
    mkdirSync(join(here.dataFolder, 'art/originals/ab'), { recursive: true });
    writeFileSync(join(here.dataFolder, 'art/originals/ab/ab01'), 'a cover');
    await h.query("INSERT INTO arts (hash, mime, bytes) VALUES ('ab01', 'image/png', 7) ON CONFLICT DO NOTHING");
    await h.query("UPDATE tracks SET art_hash = 'ab01' WHERE id = $1", [ids[1]]);
  });
  afterAll(() => h.stop());

  test.each([
    ['a folder', false],
    ['a zip', true],
  ])('is the same elsewhere, by %s: every table, every cover', async (_, zip) => {
    const path = bundlePath(zip),
      other = await emptyDesk();
    await writeBundle(here, path, { ...ALL, zip });
    expect(await read(other, path)).toMatchObject({ tracks: 3, lists: 3, away: [] });
    for (const { table, columns, order, written = {} } of TABLE_PARTS) {
      const text = `SELECT ${columns.map((c) => `${written[c] ?? `x.${c}`} AS "${camel(c)}"`).join(', ')}
        FROM ${table} x ORDER BY ${order}`;
      expect([table, await ask(other, text)]).toEqual([table, await ask(here, text)]);
    }
    const tracks = 'SELECT t.*, o.origins FROM tracks t JOIN track_origins o ON o.track_id = t.id ORDER BY t.id';
    // Whether a file is out of place is asked anew behind it.
    const calm = (rows: Record<string, unknown>[]): unknown => rows.map((row) => ({ ...row, out_of_place: null }));
    expect(calm(await ask(other, tracks))).toEqual(calm(await ask(here, tracks)));
    expect(readFileSync(join(other.dataFolder, 'art/originals/ab/ab01'), 'utf8')).toBe('a cover');
    await other.drop();
  });

  test('what is left out stays away, and what depends on it does without', async () => {
    const path = bundlePath(),
      other = await emptyDesk();
    await writeBundle(here, path, { ...ALL, categories: ['analyses', 'covers', 'lists', 'settings'] });
    await read(other, path, { categories: ['lists'] });
    const [counted] = await ask(
      other,
      `SELECT (SELECT count(*)::int FROM tracks WHERE analysis_state = 'none' AND bpm IS NULL IS NOT NULL) AS tracks,
        (SELECT count(*)::int FROM analyses) AS analyses, (SELECT count(*)::int FROM presets) AS presets,
        (SELECT count(*)::int FROM list_entries) AS entries, (SELECT count(*)::int FROM change_sets) AS changes`,
    );
    expect(counted).toMatchObject({ tracks: 3, analyses: 0, presets: 0, changes: 0 });
    await other.drop();
  });

  test('of chosen lists only their tracks come, and the crates that they stand in', async () => {
    const [friday] = await h.query<{ id: string }>("SELECT id FROM lists WHERE name = 'Friday'");
    await h.query('DELETE FROM list_entries WHERE list_id = $1', [friday!.id]);
    await h.query(
      `INSERT INTO list_entries (id, list_id, track_id, position, kind) SELECT gen_random_uuid(), $1, min(id), 1, 'track'
        FROM tracks`,
      [friday!.id],
    );
    const path = bundlePath(),
      other = await emptyDesk();
    const { lists, folders } = await writeBundle(here, path, { ...ALL, lists: [friday!.id] });
    expect(lists).toEqual(['Boathouse', 'Friday']);
    expect(folders).toMatchObject([{ tracks: 1 }]);
    await read(other, path);
    expect(await ask(other, 'SELECT title FROM tracks')).toEqual([{ title: 'a.mp3' }]);
    expect(await ask(other, 'SELECT name FROM lists ORDER BY name')).toEqual([
      { name: 'Boathouse' },
      { name: 'Friday' },
    ]);
    await other.drop();
  });

  test('folders lie elsewhere: at the paths that are given, or away until they are', async () => {
    const path = bundlePath(),
      other = await emptyDesk(),
      elsewhere = join(folder, 'elsewhere');
    mkdirSync(elsewhere, { recursive: true });
    await writeBundle(here, path, ALL);
    const [root] = await h.query<{ id: number }>('SELECT id FROM roots');
    await expect(read(other, path, { folders: [{ id: root!.id, path: 'music' }] })).rejects.toThrow('no whole path');
    expect(await read(other, path, { folders: [{ id: root!.id, path: elsewhere }] })).toMatchObject({
      here: [root!.id],
    });
    expect(await ask(other, 'SELECT path FROM roots')).toEqual([{ path: elsewhere }]);
    await other.drop();
    const third = await emptyDesk();
    const away = await read(third, path, { folders: [{ id: root!.id, path: '/nowhere/music' }] });
    expect(away).toMatchObject({ away: [root!.id] });
    expect(await ask(third, 'SELECT away_since IS NOT NULL AS away FROM roots')).toEqual([{ away: true }]);
    await third.drop();
  });

  test('killed while it is written or read, it is not there or not read, and can be done again', async () => {
    await buildKiller();
    const path = bundlePath(),
      other = await emptyDesk();
    dieInBundle(here, 'write', path, 'Writing tracks');
    expect(existsSync(path)).toBe(false);
    await writeBundle(here, path, ALL);
    expect(readdirSync(folder).filter((name) => name.startsWith('.'))).toEqual([]);
    for (const step of ['Checking the bundle', 'Covers', 'Reading tracks', 'Reading entries']) {
      dieInBundle(other, 'read', path, step);
      expect(
        await ask(other, 'SELECT (SELECT count(*)::int FROM tracks) + (SELECT count(*)::int FROM roots) AS n'),
      ).toEqual([{ n: 0 }]);
    }
    expect(await read(other, path)).toMatchObject({ tracks: 3 });
    await other.drop();
  });

  test('what is read belongs to its run: begun again after a kill, it only finishes', async () => {
    const path = join(h.folder, 'bundle'),
      second = await startHarness();
    await writeBundle(here, path, ALL);
    process.env.EARLY_SET_PLACES = h.folder;
    const taken = { ...ALL, folder: h.folder, name: 'bundle', layouts: [] };
    expect((await second.post('/bundles', taken).expect(409)).body).toMatchObject({ error: { code: 'is-there' } });
    const { body } = await second.post('/bundles/read', { ...EVERYTHING, path }).expect(200);
    const { runId } = body as { runId: number };
    const state = async (): Promise<string> =>
      (await second.query<{ state: string }>('SELECT state FROM runs WHERE id = $1', [runId]))[0]!.state;
    await second.until(async () => (await state()) === 'done', 'it is read');
    await second.query("UPDATE runs SET state = 'running', finished_at = NULL WHERE id = $1", [runId]);
    await second.query("SELECT graphile_worker.add_job('bundle', json_build_object('runId', $1::int))", [runId]);
    await second.until(async () => (await state()) !== 'running', 'it is finished again');
    expect(await state()).toBe('done');
    const again = await second.post('/bundles/read', { ...EVERYTHING, path }).expect(409);
    expect(again.body).toMatchObject({ error: { code: 'not-empty' } });
    const steps = (await second.get('/bundles/steps').expect(200)).body as BundleSteps;
    expect(steps.read).toMatchObject({ name: 'bundle' });
    expect(steps.steps).toEqual(
      expect.arrayContaining([
        { step: 'measured', done: 3, total: 3 },
        { step: 'backup', done: 0, total: 1 },
      ]),
    );
    await second.delete('/bundles/steps').expect(200);
    expect(((await second.get('/bundles/steps')).body as BundleSteps).read).toBeNull();
    await second.stop();
  });

  test('a folder that was taken in stays; a destination or a preset is not replaced', async () => {
    const path = bundlePath(),
      other = await emptyDesk();
    await writeBundle(here, path, ALL);
    await ask(other, "INSERT INTO presets (name, steps) VALUES ('Mine', '[]')");
    await expect(read(other, path)).rejects.toThrow('presets or changes here already');
    await ask(other, 'DELETE FROM presets');
    await ask(other, "INSERT INTO roots (path, label) VALUES ('/nowhere/new', 'New'), ('/nowhere/gone', 'Gone')");
    await ask(other, "UPDATE roots SET removed = true WHERE label = 'Gone'");
    await read(other, path);
    expect(await ask(other, 'SELECT label FROM roots ORDER BY id')).toEqual([{ label: 'music' }, { label: 'New' }]);
    await other.drop();
  });

  describe('what goes wrong stores nothing:', () => {
    let path: string;
    let other: Desk;
    beforeAll(async () => {
      other = await emptyDesk();
    });
    afterAll(() => other.drop());
    const fresh = async (zip = false): Promise<void> => {
      path = bundlePath(zip);
      await writeBundle(here, path, { ...ALL, zip });
    };
    const nothing = async (): Promise<void> =>
      expect(
        await ask(
          other,
          `SELECT (SELECT count(*)::int FROM tracks) AS tracks, (SELECT count(*)::int FROM roots) AS roots`,
        ),
      ).toEqual([{ tracks: 0, roots: 0 }]);
    const edit = (name: string, change: (text: string) => string, sums = true): void => {
      const file = join(path, name);
      writeFileSync(file, change(readFileSync(file, 'utf8')));
      if (!sums) return;
      const said = JSON.parse(readFileSync(join(path, 'bundle.json'), 'utf8')) as BundleManifest;
      const part = said.parts.find((p) => `${p.name}.jsonl` === name);
      if (part) part.sha256 = sumOf(file);
      writeFileSync(join(path, 'bundle.json'), JSON.stringify(said));
    };

    test.each([
      ['a library that is not empty', () => undefined, /already/, true],
      ['a part that is missing', () => rmSync(join(path, 'lists.jsonl')), /lists\.jsonl is missing/],
      [
        'a part that was changed',
        () => edit('tracks.jsonl', (t) => t.replace('a.mp3', 'x.mp3'), false),
        /tracks\.jsonl is/,
      ],
      ['a cover that is missing', () => rmSync(join(path, 'art/originals/ab/ab01')), /ab01 is missing/],
      [
        'a cover that was changed',
        () => writeFileSync(join(path, 'art/originals/ab/ab01'), 'other'),
        /ab01 is not what/,
      ],
      [
        'an entry without its track',
        () => edit('entries.jsonl', (t) => t.replace(/"trackId" : \d+/, '"trackId":77')),
        /fit together/,
      ],
      ['a line that is none', () => edit('analyses.jsonl', () => '{"trackId": tea}\n'), /fit together/],
      ['a newer version', () => edit('bundle.json', (t) => t.replace('"version": 1', '"version": 2')), /newer version/],
      ['no bundle at all', () => edit('bundle.json', () => '{}', false), /no bundle/],
      [
        'a file where none belongs',
        () => edit('keptFiles.jsonl', (t) => t.replace('art/originals/ab', 'art/originals/../..')),
        /none belongs/,
      ],
    ])('%s', async (_, spoil, words, notEmpty = false) => {
      await fresh();
      spoil();
      await expect(read(notEmpty ? here : other, path)).rejects.toThrow(words);
      await nothing();
    });

    test('a zip that is damaged or cut off', async () => {
      await fresh(true);
      truncateSync(path, 3000);
      await expect(read(other, path)).rejects.toThrow('The zip is damaged');
      writeFileSync(path, 'no zip');
      await expect(read(other, path)).rejects.toThrow('The zip is damaged');
      await nothing();
    });

    test('a name that is taken, a folder that is not there, and being cancelled', async () => {
      await fresh();
      await expect(writeBundle(here, path, ALL)).rejects.toThrow('is there already');
      await expect(writeBundle(here, join(folder, 'no/where/b'), ALL)).rejects.toThrow('This is not there');
      for (const zip of [false, true]) {
        const cancelled = bundlePath(zip),
          stop = new AbortController();
        const tell = (said: string): Promise<void> => {
          if (said === 'Writing entries') stop.abort();
          return Promise.resolve();
        };
        await expect(writeBundle(here, cancelled, { ...ALL, zip }, { signal: stop.signal, tell })).rejects.toThrow();
        expect(readdirSync(dirname(cancelled)).filter((name) => name.startsWith('.'))).toEqual([]);
      }
      const half = new AbortController();
      const source = await openSource(path);
      await expect(
        readBundle(other, source, EVERYTHING, {
          signal: half.signal,
          tell: (words) => {
            if (words === 'Reading tracks') half.abort();
            return Promise.resolve();
          },
        }),
      ).rejects.toThrow();
      await source.close();
      await nothing();
    });
  });
});
