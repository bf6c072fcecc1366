import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, run, say } from './run.mjs';

/** What runs under Node.js: entry → file in dist. */
const ENTRIES = {
  'server/main': 'server/main.ts',
  'server/desk': 'server/desk.ts',
  'server/restoreCommand': 'server/restoreCommand.ts',
  'server/checkCommand': 'server/checkCommand.ts',
  'server/passphraseCommand': 'server/passphraseCommand.ts',
  'server/worker': 'server/worker.ts',
  'server/joinCommand': 'server/joinCommand.ts',
  'server/cli': 'server/cli.ts',
  'server/commands': 'server/commands.ts',
  'server/analysisThread': 'server/media/analysisThread.ts',
  'server/fileThread': 'server/files/fileThread.ts',
  'server/listThread': 'server/lists/listThread.ts',
  'server/relinkThread': 'server/disk/relinkThread.ts',
  'server/cleanThread': 'server/clean/cleanThread.ts',
  'server/placesThread': 'server/disk/placesThread.ts',
  'server/lookThread': 'server/handover/lookThread.ts',
  'server/compareThread': 'server/disk/compareThread.ts',
  'server/stickThread': 'server/stick/stickThread.ts',
  'server/hourThread': 'server/hours/hourThread.ts',
  'demo/make': 'demo/make.ts',
  'demo/produce': 'demo/produce.ts',
  'demo/many': 'demo/many.ts',
  'demo/lists': 'demo/lists.ts',
  'demo/hours': 'demo/hours.ts',
  'demo/programs': 'demo/programs.ts',
  'standins/whimbrel': 'standins/whimbrel/main.ts',
  'standins/plover': 'standins/plover/main.ts',
  'standins/dunlin': 'standins/dunlin/main.ts',
  'standins/oystercatcher': 'standins/oystercatcher/main.ts',
  'standins/turnstone': 'standins/turnstone/main.ts',
  'standins/knotpool': 'standins/knotpool/main.ts',
};

function fingerprint(folders) {
  const hash = createHash('sha256');
  const walk = (path) => {
    for (const entry of readdirSync(path, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const full = join(path, entry.name);
      if (entry.isDirectory()) {
        if (entry.name !== 'node_modules') walk(full);
        continue;
      }
      const { size, mtimeMs } = statSync(full);
      hash.update(`${full}:${size}:${mtimeMs};`);
    }
  };
  for (const folder of folders) walk(join(ROOT, folder));
  hash.update(readFileSync(join(ROOT, 'package-lock.json')));
  return hash.digest('hex');
}

async function whenChanged(name, folders, action) {
  const stamp = join(ROOT, 'dist', `.${name}`);
  const now = fingerprint(folders);
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === now) return;
  await action();
  mkdirSync(join(ROOT, 'dist'), { recursive: true });
  writeFileSync(stamp, now);
}

/** Bundles TypeScript for Node.js; packages stay outside. */
export async function bundle(entries, outFolder) {
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: ROOT,
    entryPoints: Object.fromEntries(Object.entries(entries).map(([out, source]) => [out, join(ROOT, source)])),
    outdir: outFolder,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    sourcemap: 'linked',
    logLevel: 'warning',
    plugins: [
      {
        name: 'packages-outside',
        setup(build) {
          build.onResolve({ filter: /^[^./]/ }, ({ path, kind }) =>
            kind === 'entry-point' || path.startsWith('@early-set/') ? undefined : { external: true },
          );
        },
      },
    ],
  });
}

/** Bundles one script for a browser, packages with it. */
export async function bundleForPage(source, outFile) {
  const { build } = await import('esbuild');
  await build({
    absWorkingDir: ROOT,
    entryPoints: [source],
    outfile: outFile,
    bundle: true,
    format: 'iife',
    target: 'es2022',
    minify: true,
    logLevel: 'warning',
  });
}

/** Builds what runs under Node.js, when its sources changed. */
export const buildServer = () =>
  whenChanged('server', ['core', 'server', 'demo', 'standins'], () => {
    say('building the server');
    return bundle(ENTRIES, join(ROOT, 'dist'));
  });

/** Builds the page, when its sources changed. */
export const buildWeb = () =>
  whenChanged('web', ['core', 'web'], () => {
    say('building the page');
    return run('node', [join(ROOT, 'node_modules/vite/bin/vite.js'), 'build', '--logLevel', 'warn'], {
      cwd: join(ROOT, 'web'),
    });
  });
