/**
 * Scanning 5,000 files (or BENCH_FILES): MP3 and FLAC with tags, a picture in every tenth, in 100 folders; and scanning
 * 300,000 (or BENCH_KNOWN) again that are all known.
 */
import { copyFileSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { connect } from '../server/db/database.ts';
import { migrate } from '../server/db/migrate.ts';
import { defineModels, Root, Run } from '../server/db/models.ts';
import { createFilePool } from '../server/files/filePool.ts';
import { scanRoot } from '../server/intake/scan.ts';
import { openArtStore } from '../server/media/art.ts';
import { freshDatabase } from './database.ts';
import { knownFolder } from './scanAgain.ts';
import { table } from './table.ts';
import { asMetadata, synthesize } from '../server/testing/ffmpeg.ts';

const FILES = Number(process.env.BENCH_FILES ?? 5000),
  KNOWN = Number(process.env.BENCH_KNOWN ?? 300_000);
const folder = mkdtempSync(join(tmpdir(), 'early-set-bench-'));
const music = join(folder, 'music');
const TAGS = {
  title: 'Slack Water',
  artist: 'Odette Kassar',
  album: 'Slack Water EP',
  genre: 'House',
  date: '2021',
};
const make = (name: string, args: string[]): string => {
  const path = join(folder, name);
  const cover = ['-f', 'lavfi', '-i', 'color=c=teal:s=500x500:d=1'];
  synthesize(path, 'sine=frequency=330:duration=20', ...cover, ...args, ...asMetadata(TAGS));
  return path;
};
const sources = [
  make('plain.mp3', ['-map', '0:a', '-b:a', '192k']),
  make('plain.flac', ['-map', '0:a']),
  make('art.mp3', ['-map', '0:a', '-map', '1:v', '-frames:v', '1', '-c:v', 'mjpeg', '-disposition:v', 'attached_pic']),
];
for (let i = 0; i < FILES; i++) {
  const source = i % 10 === 0 ? sources[2]! : sources[i % 2]!;
  const into = join(music, String(i % 100).padStart(3, '0'));
  mkdirSync(into, { recursive: true });
  copyFileSync(source, join(into, `${i}${source.slice(source.lastIndexOf('.'))}`));
}
const { url, drop } = await freshDatabase();
const database = await connect(url);
await migrate(database);
defineModels(database.sequelize);
const art = openArtStore(join(folder, 'art'), database);
const files = createFilePool(pathToFileURL(process.env.BENCH_FILE_THREAD!));
const root = await Root.create({ path: music, label: 'bench', measure: false });
const run = await Run.create({ kind: 'intake', title: 'Benchmark' });
const rows: (string | number)[][] = [];
async function measure(what: string, root: Root): Promise<void> {
  const start = performance.now();
  const report = await scanRoot({
    database,
    runId: run.id,
    art,
    files,
    policy: 'fill gaps',
    settings: {},
    root,
    progress: async () => undefined,
  });
  const seconds = (performance.now() - start) / 1000;
  rows.push([
    what,
    report.found,
    report.taken,
    `${seconds.toFixed(1)} s`,
    `${(report.found / seconds).toFixed(0)} files/s`,
  ]);
}
await measure('first scan', root);
await measure('scanning again', root);
const many = await knownFolder(database, url, KNOWN, join(folder, 'known'));
for (let i = 0; i < 2; i++) await measure('scanning many again', many);
console.log(`Intake of ${FILES.toLocaleString('en-GB')} files, and ${KNOWN.toLocaleString('en-GB')} that are known\n`);
table(['', 'found', 'taken', 'time', 'rate'], rows);
await files.close();
await database.close();
await drop();
rmSync(folder, { recursive: true, force: true });
