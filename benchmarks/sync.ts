/**
 * A library beside a program's collection: given there, compared when both are the same, compared and made alike after
 * one in a hundred tracks was changed on each side. Time of the whole question, and the most memory that the process of
 * the server, which does nothing else, took meanwhile. At 1,000, 10,000 and 100,000 tracks (or BENCH_SIZES).
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { pathToFileURL } from 'node:url';
import type { ComparisonAnswer, SyncStep } from '@early-set/core/api/handover';
import { DEFAULT_POLICIES } from '@early-set/core/sync/policies';
import { seedLists } from '../demo/lists.ts';
import { seedMany } from '../demo/many.ts';
import { connect } from '../server/db/database.ts';
import { migrate } from '../server/db/migrate.ts';
import { freshDatabase } from './database.ts';
import { table } from './table.ts';

const SIZES = (process.env.BENCH_SIZES ?? '1000,10000,100000').split(',').map(Number);
const REST_MS = 6000,
  LOOK_MS = 250;
/** A list for so many tracks. */
const TRACKS_A_LIST = 200;
/** Tables are tidied up only when they are told to. */
const NOT_BY_ITSELF = `DO '
  DECLARE t regclass;
  BEGIN
    FOR t IN SELECT oid FROM pg_class WHERE relkind = ''r'' AND relnamespace = ''public''::regnamespace LOOP
      EXECUTE format(''ALTER TABLE %s SET (autovacuum_enabled = false, toast.autovacuum_enabled = false)'', t);
    END LOOP;
  END'`;
const rows: (string | number)[][] = [];

/** The server in a process of its own, whose memory the kernel keeps the most of. */
async function ownProcess(options: object): Promise<{
  address: string;
  forgetMost(): void;
  mostMegabytes(): number;
  stop(): Promise<void>;
}> {
  const main = pathToFileURL(join(dirname(process.env.BENCH_FILE_THREAD!), 'main.mjs')).href;
  const script = `
    const { start } = await import(${JSON.stringify(main)});
    const server = await start(${JSON.stringify(options)});
    process.once('SIGTERM', () => server.stop().then(() => process.exit()));
    console.log(server.address);`;
  const child = spawn(process.execPath, ['--input-type=module', '-e', script], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  process.once('exit', () => child.kill());
  const [line] = (await once(child.stdout, 'data')) as [Buffer];
  const about = (file: string): string => `/proc/${child.pid}/${file}`;
  return {
    address: line.toString().trim(),
    forgetMost: () => writeFileSync(about('clear_refs'), '5'),
    mostMegabytes: () =>
      Math.round((Number(/VmHWM:\s+(\d+)/.exec(readFileSync(about('status'), 'utf8'))![1]) * 1024) / 1e6),
    async stop() {
      const ended = once(child, 'exit');
      child.kill();
      await ended;
    },
  };
}

for (const size of SIZES) {
  const folder = mkdtempSync(join(tmpdir(), 'early-set-bench-'));
  process.env.EARLY_SET_PLACES = folder;
  const data = join(folder, 'plover/collection'),
    tracksFile = join(data, 'tracks.jsonl');
  mkdirSync(join(data, 'lists'), { recursive: true });
  writeFileSync(tracksFile, '');
  const { url, drop } = await freshDatabase();
  const database = await connect(url);
  await migrate(database);
  await seedMany(url, size);
  const lists = await seedLists(url, Math.max(1, size / TRACKS_A_LIST));
  await database.run('VACUUM ANALYZE');
  const server = await ownProcess({
    ...{ databaseUrl: url, dataFolder: join(folder, 'data'), webFolder: null, port: 0, demoRoot: null, threads: 1 },
    ...{ compare: false },
  });
  const ask = async <T>(method: string, path: string, body: object): Promise<T> => {
    const answer = await fetch(`${server.address}/api${path}`, {
      ...{ method, body: JSON.stringify(body), headers: { 'content-type': 'application/json' } },
    });
    if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
    return (await answer.json()) as T;
  };
  const { id } = await ask<{ id: number }>('POST', '/destinations', { folder: join(folder, 'plover') });
  const stepNow = async (): Promise<SyncStep | null> => {
    const answer = await fetch(`${server.address}/api/destinations/${id}/step`);
    return ((await answer.json()) as { step: SyncStep | null }).step;
  };
  const timed = async <T>(what: string, work: () => Promise<T>, said: (answer: T) => number): Promise<T> => {
    // What was asked before, and what the server compares behind it of itself, is none of this question's.
    for (let quiet = 0; quiet < REST_MS; quiet = (await stepNow()) === null ? quiet + LOOK_MS : 0)
      await setTimeout(LOOK_MS);
    server.forgetMost();
    const begun = performance.now();
    const answer = await work();
    const seconds = (performance.now() - begun) / 1000;
    const numbers = [size, lists].map((n) => n.toLocaleString('en-GB'));
    rows.push([what, ...numbers, said(answer), `${seconds.toFixed(1)} s`, `${server.mostMegabytes()} MB`]);
    return answer;
  };
  await ask('PATCH', `/destinations/${id}`, { settings: { policies: { ...DEFAULT_POLICIES, tracks: 'all' } } });
  await ask('PATCH', '/settings', { editsGoTo: 'library' });
  const compare = (): Promise<ComparisonAnswer> => ask('POST', `/destinations/${id}/compare`, { choices: {} });
  const changes = ({ groups }: ComparisonAnswer): number => groups.clash + groups.in + groups.out;
  const sync = async ({ token }: ComparisonAnswer): Promise<unknown> =>
    ask('POST', `/destinations/${id}/sync`, { token, choices: {} });
  // Crates that fill themselves are filled behind the start.
  for (let was = '', now = (await compare()).token; was !== now;) [was, now] = [now, (await compare()).token];
  // What was filled in a minute is tidied up now, and not in the middle of what is timed.
  await database.run('VACUUM ANALYZE');
  await database.run(NOT_BY_ITSELF);
  const empty = await timed('compared with nothing', compare, changes);
  await timed(
    'given all',
    () => sync(empty),
    () => changes(empty),
  );
  await timed('compared, both the same', compare, changes);
  await database.run("UPDATE tracks SET title = 'Another ' || id WHERE id % 100 = 0");
  const edited = readFileSync(tracksFile, 'utf8')
    .split('\n')
    .map((line, i) =>
      line && i % 100 === 50 ? JSON.stringify({ ...(JSON.parse(line) as object), comment: `No. ${i}` }) : line,
    );
  writeFileSync(tracksFile, edited.join('\n'));
  const changed = await timed('compared, one in 100 changed on each side', compare, changes);
  await timed(
    'made alike',
    () => sync(changed),
    () => changes(changed),
  );
  const after = await compare();
  if (changes(after) > 0) throw new Error(`something is left to do: ${JSON.stringify(after.lines[0])}`);
  await database.run('UPDATE destinations SET synced = NULL');
  await timed('compared for the first time, both the same', compare, changes);
  await server.stop();
  await database.close();
  await drop();
  rmSync(folder, { recursive: true, force: true });
}
table(['', 'tracks', 'lists', 'differs', 'time', 'most memory'], rows);
