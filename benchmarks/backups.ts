/**
 * Bundles and backups of 100,000 tracks (or BENCH_TRACKS) with lists and history: written, read into an empty library,
 * backed up, verified, restored; and how measurements, whose waveforms are most of the bytes, go along.
 */
import { mkdirSync, mkdtempSync, readdirSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { CATEGORIES, type Category } from '@early-set/core/bundle/manifest';
import { setFieldKind } from '@early-set/core/changes/kinds/setField';
import { bytes } from '@early-set/core/space/bytes';
import { seeded } from '@early-set/core/signal/random';
import { seedMany } from '../demo/many.ts';
import { makeBackup } from '../server/backups/make.ts';
import { restoreBackup } from '../server/backups/restore.ts';
import { verifyBackup } from '../server/backups/verify.ts';
import { readBundle } from '../server/bundle/read.ts';
import { openSource } from '../server/bundle/source.ts';
import { writeBundle } from '../server/bundle/write.ts';
import { connect, type Database } from '../server/db/database.ts';
import { migrate } from '../server/db/migrate.ts';
import { freshDatabase } from './database.ts';
import { table } from './table.ts';

const TRACKS = Number(process.env.BENCH_TRACKS ?? 100_000);
const MEASURED = Math.min(TRACKS, 5000);
const LISTS = 1000,
  ENTRIES = 100;
/** Of five minutes, as measuring makes it. */
const WAVEFORM_BYTES = 90_000;

const home = mkdtempSync(join(tmpdir(), 'early-set-bench-bundle-'));
const dataFolder = join(home, 'data');
mkdirSync(dataFolder);

async function library(): Promise<{ url: string; database: Database; drop: () => Promise<void> }> {
  const { url, drop } = await freshDatabase();
  const database = await connect(url);
  await migrate(database);
  return { url, database, drop };
}

const full = await library();
await seedMany(full.url, TRACKS);
await full.database.run(
  `INSERT INTO lists (id, kind, name, position) SELECT gen_random_uuid(), 'playlist', 'List ' || n, n
    FROM generate_series(1, ${LISTS}) n`,
);
await full.database.run(
  `INSERT INTO list_entries (id, list_id, track_id, position, kind)
    SELECT gen_random_uuid(), l.id, 1 + (l.position::int * 7919 + n * 104729) % ${TRACKS}, n, 'track'
      FROM lists l, generate_series(1, ${ENTRIES}) n`,
);
await full.database.run(
  `INSERT INTO change_sets (title, done) SELECT 'Genre on 100 tracks', 100 FROM generate_series(1, ${TRACKS / 100})`,
);
await full.database.run(
  `INSERT INTO change_items (change_set_id, seq, item, state, area, track_id)
    SELECT 1 + n / 100, n % 100, jsonb_build_object('kind', '${setFieldKind.kind}', 'trackId', n, 'field', 'genre',
      'before', jsonb_build_object('value', jsonb_build_array('Dub')), 'after', jsonb_build_object('value', NULL)),
      'done', 'fields', 1 + n FROM generate_series(0, ${TRACKS - 1}) n`,
);
await full.database.run(
  `INSERT INTO track_origins (track_id, origins) SELECT id, jsonb_build_object('title', o, 'artist', o, 'album', o,
      'genre', o, 'bpm', o, 'key', o, 'year', o, 'lufs', o) FROM tracks,
      (SELECT jsonb_build_object('origin', 'file tag', 'at', '2026-11-01T10:00:00.000Z') AS o) x
    ON CONFLICT DO NOTHING`,
);
const chance = seeded(5);
/** Levels that go up and down as music does; noise would not be packed at all, silence too well. */
function waveform(): Buffer {
  const out = Buffer.alloc(WAVEFORM_BYTES);
  let level = 120;
  for (let i = 0; i < out.length; i++) {
    level = Math.min(250, Math.max(5, level + (chance() - 0.5) * 40));
    out[i] = Math.round(level);
  }
  return out;
}
const waves = Array.from({ length: 20 }, waveform);
for (let id = 1; id <= MEASURED; id++)
  await full.database.run(
    `INSERT INTO analyses (track_id, engine, result, waveform, fingerprint) VALUES ($1, 7,
      jsonb_build_object('energy', jsonb_build_object('curve', $2::jsonb)), $3, $4)`,
    [
      id,
      JSON.stringify(Array.from({ length: 200 }, () => Math.round(chance() * 100))),
      waves[id % 20],
      waves[0]!.subarray(0, 3800),
    ],
  );
await full.database.run('VACUUM ANALYZE');

/** What lies in a folder, or a file has. */
function sizeOf(path: string): number {
  const info = statSync(path);
  if (info.isFile()) return info.size;
  return readdirSync(path).reduce((sum, name) => sum + sizeOf(join(path, name)), 0);
}

let most = 0;
const watch = setInterval(() => (most = Math.max(most, process.memoryUsage().rss)), 50);
const rows: string[][] = [];
async function measured<T>(what: string, goal: string, size: (made: T) => string, work: () => Promise<T>): Promise<T> {
  globalThis.gc?.();
  most = process.memoryUsage().rss;
  const begun = performance.now();
  const made = await work();
  const seconds = (performance.now() - begun) / 1000;
  rows.push([what, `${seconds.toFixed(1)} s`, goal, size(made), bytes(most)]);
  return made;
}

const without = CATEGORIES.filter((c) => c !== 'analyses');
const here = { databaseUrl: full.url, dataFolder };
async function both(
  what: string,
  categories: readonly Category[],
  zip: boolean,
  goals: [string, string],
): Promise<void> {
  const path = join(home, `bundle-${rows.length}${zip ? '.zip' : ''}`);
  await measured(
    `${what}: written`,
    goals[0],
    () => bytes(sizeOf(path)),
    () => writeBundle(here, path, { categories, lists: null, zip }),
  );
  const empty = await library();
  const other = { databaseUrl: empty.url, dataFolder: join(home, `other-${rows.length}`) };
  mkdirSync(other.dataFolder);
  const source = await openSource(path);
  const read = await measured(
    `${what}: read`,
    goals[1],
    () => '',
    () => readBundle(other, source, { categories, folders: [] }),
  );
  await source.close();
  if (read.tracks !== TRACKS || read.lists !== LISTS) throw new Error('It is not what was written');
  await empty.database.close();
  await empty.drop();
  rmSync(path, { recursive: true });
}
await both('bundle without measurements, folder', without, false, ['< 60 s', '< 180 s']);
await both('bundle without measurements, zip', without, true, ['', '']);
await both(`bundle with ${MEASURED.toLocaleString('en-GB')} measurements, folder`, CATEGORIES, false, ['', '']);

const folder = join(home, 'backups');
const places = { ...here, folder };
const backup = await measured(
  'backup made',
  '',
  (b) => bytes(b.manifest.dump.bytes),
  () => makeBackup(places, { reason: 'by hand' }),
);
const trouble = await measured(
  'backup verified',
  '',
  () => '',
  () => verifyBackup(places, backup),
);
if (trouble) throw new Error(trouble);
await full.database.close();
await measured(
  'backup restored (what is there backed up first)',
  '',
  () => '',
  () => restoreBackup(places, backup.id),
);
clearInterval(watch);
await full.drop();
rmSync(home, { recursive: true, force: true });

console.log(
  `${TRACKS.toLocaleString('en-GB')} tracks, ${LISTS} lists of ${ENTRIES}, ${TRACKS.toLocaleString('en-GB')} lines of changes, ` +
    `${MEASURED.toLocaleString('en-GB')} of them measured (${bytes(WAVEFORM_BYTES)} of waveform each)`,
);
table(['', 'time', 'goal', 'size', 'most memory'], rows);
