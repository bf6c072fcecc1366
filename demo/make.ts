/**
 * Makes the demo library below a folder: `node dist/demo/make.mjs FOLDER [--only N]`. Prints a line
 * "made PATH" after each file, so that whoever started it can take files in while others are still made.
 * What is already there is kept; ends with "done".
 */
import { existsSync } from 'node:fs';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { Piscina } from 'piscina';
import { fingerprintOf } from './fingerprint.ts';
import { makeDoubles, makeMess } from './mess.ts';
import type { ProduceTask, Truth } from './produce.ts';
import { LAPTOP, LAPTOP_FOLDER } from './scenario/laptop.ts';
import { PLAN } from './scenario/plan.ts';
import { makePool } from './pool.ts';
import { makeStation } from './station.ts';

const { values, positionals } = parseArgs({ options: { only: { type: 'string' } }, allowPositionals: true });
const [folder] = positionals;
if (!folder) {
  console.error('usage: make FOLDER [--only N]');
  process.exit(2);
}
// Whoever started this has gone: stop, and go on at the next start.
process.on('disconnect', () => process.exit(1));
process.channel?.unref();
process.stdout.on('error', () => process.exit(1));

const base = resolve(folder);
const root = join(base, 'music');
const staging = join(base, 'staging');
const truthFile = join(base, 'truth.json');
const recordingsFile = join(base, 'recordings.jsonl');
const wanted = Number(values.only ?? PLAN.length);

const known = existsSync(truthFile) ? (JSON.parse(await readFile(truthFile, 'utf8')) as Truth[]) : [];
const truths = new Map(known.map((t) => [t.path, t]));
await mkdir(root, { recursive: true });
await rm(staging, { recursive: true, force: true });
await mkdir(staging, { recursive: true });

const pool = new Piscina<ProduceTask, Truth>({
  filename: new URL('./produce.mjs', import.meta.url).href,
  maxThreads: availableParallelism(),
  minThreads: 1,
});
let saved: Promise<void> = Promise.resolve();
/** One save after the other: they share a temporary file. */
const saveTruth = (): Promise<void> => {
  saved = saved.then(async () => {
    const temporary = `${truthFile}.new`;
    await writeFile(temporary, JSON.stringify(PLAN.flatMap((p) => truths.get(p.path) ?? [])));
    await rename(temporary, truthFile);
  });
  return saved;
};
/** What the catalogue is told of: the recordings of the labels, but not what nobody has published. */
const saveRecordings = async (): Promise<void> => {
  const lines = PLAN.flatMap((p) => {
    const truth = truths.get(p.path);
    return truth?.fingerprint && p.album && p.artist !== 'Skerry Foreshore'
      ? [
          JSON.stringify({
            artist: p.artist,
            title: p.title,
            version: p.version || null,
            seconds: Math.round(truth.lengthSeconds),
            fingerprint: truth.fingerprint,
          }),
        ]
      : [];
  });
  await writeFile(`${recordingsFile}.new`, lines.map((l) => `${l}\n`).join(''));
  await rename(`${recordingsFile}.new`, recordingsFile);
};
const missing = PLAN.slice(0, wanted)
  .map((plan, index) => ({ plan, index }))
  .filter(({ plan }) => !truths.has(plan.path) || !existsSync(join(root, plan.path)));
if (missing.length > 0) {
  await makeMess(root);
  console.log('made the mess');
  await Promise.all(
    missing.map(async ({ plan, index }) => {
      truths.set(plan.path, await pool.run({ plan, root, staging: join(staging, `track-${index}`) }));
      await saveTruth();
      console.log(`made ${plan.path}`);
    }),
  );
  if (wanted === PLAN.length) {
    await makeDoubles(root, join(staging, 'double'));
    console.log('made the doubles');
  }
}
if (wanted === PLAN.length) for (const path of await makeStation(root, staging)) console.log(`made ${path}`);
if (wanted === PLAN.length)
  await Promise.all([
    makePool(join(base, 'pool'), (plan, name) =>
      pool.run({ plan, root: join(base, 'pool'), staging: join(staging, name) }),
    ),
    ...LAPTOP.filter((plan) => !existsSync(join(base, LAPTOP_FOLDER, plan.path))).map((plan, i) =>
      pool.run({ plan, root: join(base, LAPTOP_FOLDER), staging: join(staging, `laptop-${i}`) }),
    ),
  ]);
let heard = 0;
for (const truth of truths.values()) {
  if (truth.fingerprint !== undefined || !existsSync(join(root, truth.path))) continue;
  truth.fingerprint = await fingerprintOf(join(root, truth.path));
  heard++;
}
if (heard > 0) await saveTruth();
if (missing.length > 0 || heard > 0 || !existsSync(recordingsFile)) await saveRecordings();
await pool.destroy();
await rm(staging, { recursive: true, force: true });
console.log('done');
