/** `npm run bench:NAME`: prints accuracy or speed as a table. Uses data of its own. */
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { join } from 'node:path';
import { buildServer, buildWeb, bundle, bundleForPage } from './lib/build.mjs';
import { compileAssembly } from './lib/kernels.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { main, ROOT, run, say, SetupError } from './lib/run.mjs';
import { setup } from './lib/setup.mjs';

const name = process.argv[2] ?? '';

/** What runs in a browser's worker, by benchmark. */
const WORKERS = { clean: 'stepsWorker', arrange: 'smoothWorker' };

/** The files of a folder, and one that is a file itself. */
const listed = (at) =>
  statSync(at).isFile()
    ? [at]
    : readdirSync(at)
        .sort()
        .map((n) => join(at, n))
        .filter((file) => statSync(file).isFile());

/** Changes with whatever makes the benchmark's sound, so that it is made anew just then; plans count by themselves. */
function soundVersion(...places) {
  const hash = createHash('sha256');
  for (const place of places) {
    const at = join(ROOT, place);
    for (const file of listed(at)) if (!/\.test\.ts$|\/plan\.ts$/.test(file)) hash.update(readFileSync(file));
  }
  return hash.digest('hex');
}

main(async () => {
  if (!existsSync(join(ROOT, 'benchmarks', `${name}.ts`))) throw new SetupError(`There is no benchmark ${name}`);
  const inBrowser = name in WORKERS || name === 'sheet';
  await setup({ bench: true, tests: inBrowser });
  await buildServer();
  if (name === 'sheet') await buildWeb();
  await bundle(
    {
      [name]: `benchmarks/${name}.ts`,
      producePiece: 'benchmarks/pieces/produce.ts',
      produceOther: 'benchmarks/others/produce.ts',
      featureThread: 'benchmarks/fit/featureThread.ts',
      foldThread: 'benchmarks/fit/foldThread.ts',
      desk: 'benchmarks/sheet/desk.ts',
    },
    join(ROOT, 'dist/bench'),
  );
  const loops = join(ROOT, 'dist/bench/training.wasm');
  writeFileSync(loops, await compileAssembly('benchmarks/fit/assembly', 'training.ts'));
  const worker = WORKERS[name];
  if (worker) await bundleForPage(`benchmarks/${name}/${worker}.ts`, join(ROOT, `dist/bench/${worker}.js`));
  const data = join(ROOT, 'data-test');
  mkdirSync(data, { recursive: true });
  const demo = join(data, 'demo');
  if (['speed', 'loudness', 'limiter'].includes(name)) {
    say('making the demo music where it is missing');
    await run(process.execPath, [join(ROOT, 'dist/demo/make.mjs'), demo], { stdio: ['ignore', 'ignore', 'inherit'] });
  }
  const database = ['sheet', 'intake', 'edits', 'crates', 'backups', 'mirrors', 'stick', 'sync'].includes(name)
    ? await startPostgres(data, { fsync: name === 'sheet' })
    : null;
  try {
    await run(process.execPath, [join(ROOT, `dist/bench/${name}.mjs`), demo], {
      env: {
        ...process.env,
        BENCH_CACHE: process.env.EARLY_SET_BENCH_CACHE ?? join(homedir(), '.cache/early-set-bench'),
        BENCH_SOUND_VERSION: soundVersion('benchmarks/pieces', 'demo/synth', 'demo/encode.ts'),
        BENCH_OTHERS_VERSION: soundVersion('benchmarks/others', 'benchmarks/pieces/effects.ts', 'demo/encode.ts'),
        BENCH_FEATURE_VERSION: soundVersion(
          'core/signal',
          'core/signal/kernels/assembly',
          'core/analysis/features.ts',
          'core/analysis/rhythm/bands.ts',
          'core/analysis/rhythm/onsets.ts',
          'core/analysis/harmony/chroma.ts',
        ),
        BENCH_LOOPS: loops,
        BENCH_DATABASE_URL: database?.url ?? '',
        BENCH_THREAD: join(ROOT, 'dist/server/analysisThread.mjs'),
        BENCH_THREADS: join(ROOT, 'dist/server'),
        BENCH_WEB: join(ROOT, 'dist/web'),
        BENCH_FILE_THREAD: join(ROOT, 'dist/server/fileThread.mjs'),
      },
    });
  } finally {
    database?.stop();
  }
});
