/** `npm start` and `npm run demo`: set-up, database, server and page in one process; Ctrl-C stops all of it. */
import { fork } from 'node:child_process';
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { parseArgs } from 'node:util';
import { buildServer, buildWeb } from './lib/build.mjs';
import { databaseListen, reachable } from './lib/elsewhere.mjs';
import { startPostgres } from './lib/postgres.mjs';
import { claim } from './lib/claim.mjs';
import { main, ROOT, say, SetupError } from './lib/run.mjs';
import { freePort, settingsOf } from './lib/settings.mjs';
import { dataFolder, setup } from './lib/setup.mjs';

const { demo, many, only, ...network } = parseArgs({
  options: {
    demo: { type: 'boolean' },
    many: { type: 'boolean' },
    only: { type: 'string' },
    listen: { type: 'string' },
    host: { type: 'string', multiple: true },
    'tls-cert': { type: 'string' },
    'tls-key': { type: 'string' },
    'behind-proxy': { type: 'boolean' },
    'without-tls': { type: 'boolean' },
  },
}).values;

/** Who may come in from elsewhere; null: nobody. */
async function accessOf(folder, openAccess) {
  if (network.listen === undefined) {
    const [alone] = Object.keys(network);
    if (alone) throw new SetupError(`--${alone} goes with --listen`);
    return null;
  }
  try {
    return await openAccess(folder, {
      ...{ listen: network.listen, host: network.host, tlsCert: network['tls-cert'], tlsKey: network['tls-key'] },
      ...{ behindProxy: network['behind-proxy'], withoutTls: network['without-tls'] },
    });
  } catch (error) {
    throw new SetupError(error.message);
  }
}

async function httpPort(settings) {
  const wanted = process.env.EARLY_SET_PORT ? Number(process.env.EARLY_SET_PORT) : (settings.values.httpPort ?? 8980);
  try {
    return await freePort(wanted);
  } catch {
    if (process.env.EARLY_SET_PORT) throw new SetupError(`Port ${wanted} is in use`);
    return freePort();
  }
}

/** Makes the demo's music in a process of its own and tells the server of each file. */
function makeDemo(folder, desk, databaseUrl, stopping) {
  const child = fork(join(ROOT, 'dist/demo/make.mjs'), [folder, ...(only ? ['--only', only] : [])], {
    stdio: ['ignore', 'pipe', 'inherit', 'ipc'],
  });
  let made = 0;
  child.stdout.on('data', (chunk) => {
    const lines = chunk
      .toString()
      .split('\n')
      .filter((l) => l.startsWith('made '));
    made += lines.length;
    if (lines.length) desk.server().musicArrived();
  });
  child.on('exit', (code) => {
    if (code === 0 && made) say('the demo library is complete');
    if (code === 0) {
      desk.server().musicArrived();
      if (!only) void makeLists(databaseUrl, join(folder, 'music'), stopping);
    } else if (!stopping()) console.error('The demo music could not all be made; the next start goes on with it.');
  });
  return child;
}

/** The demo's crates and playlists, as soon as all its music is in the library; its hours once that is measured. */
async function makeLists(databaseUrl, music, stopping) {
  const { makeDemoLists } = await import(join(ROOT, 'dist/demo/lists.mjs'));
  const { makeDemoHours } = await import(join(ROOT, 'dist/demo/hours.mjs'));
  const { makeDemoPrograms } = await import(join(ROOT, 'dist/demo/programs.mjs'));
  for (const make of [makeDemoLists, makeDemoPrograms, makeDemoHours])
    while (!stopping()) {
      const made = await make(databaseUrl, music).catch((error) => {
        if (!stopping()) console.error(`The demo's lists could not be made: ${error.message}`);
        return true;
      });
      if (made) break;
      await sleep(1000, null, { ref: false });
    }
}

/** The stand-in of a service, in a process of its own; resolves with its address. */
function startService(what, name, args) {
  const child = fork(join(ROOT, `dist/standins/${name}.mjs`), args, { stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
  return new Promise((resolve, reject) => {
    child.once('message', ({ address }) => resolve({ address, stop: () => child.kill() }));
    child.once('exit', (code) => reject(new SetupError(`The stand-in of the ${what} ended with ${code}`)));
  });
}

let cleanUp = () => {};

main(
  async () => {
    const started = Date.now();
    const folder = dataFolder();
    mkdirSync(folder, { recursive: true });
    const lock = claim(folder);
    lock.set('starting');
    await setup();
    const settings = settingsOf(folder);
    const listen = databaseListen();
    const [database] = await Promise.all([
      startPostgres(folder, { fsync: process.env.EARLY_SET_UNSAFE_FSYNC_OFF !== '1', listen }),
      buildServer().then(buildWeb),
    ]);
    cleanUp = () => {
      database.stop();
      lock.release();
    };
    const port = await httpPort(settings);
    const demoFolder = join(folder, 'demo');
    if (demo) mkdirSync(join(demoFolder, 'music'), { recursive: true });
    // What the stand-ins say of data that are to be put in their place.
    if (demo) process.env.EARLY_SET_CHECKERS ??= join(ROOT, 'dist/standins');
    const { keepGoing, openAccessAs, openDesk } = await import(join(ROOT, 'dist/server/desk.mjs'));
    keepGoing();
    const access = await accessOf(folder, openAccessAs);
    const catalogue = demo
      ? await startService('catalogue', 'whimbrel', ['--recordings', join(demoFolder, 'recordings.jsonl')])
      : null;
    const pool = demo ? await startService('pool', 'knotpool', ['--folder', join(demoFolder, 'pool')]) : null;
    let maker = null;
    let desk = null;
    let stopping = false;
    // Whatever ended the database, it is started again; the server waits for it meanwhile.
    const watch = setInterval(() => {
      if (!stopping && database.revive()) console.error('· the database had stopped; it is started again');
    }, 2000);
    const stop = async (signal) => {
      if (stopping) return;
      stopping = true;
      clearInterval(watch);
      if (signal) console.log('\n· stopping');
      maker?.kill();
      catalogue?.stop();
      pool?.stop();
      await desk?.stop().catch((error) => console.error(error));
      database.stop();
      lock.release();
      process.exit(0);
    };
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => void stop(signal));
    const options = {
      databaseUrl: database.url,
      dataFolder: folder,
      webFolder: join(ROOT, 'dist/web'),
      access,
      port: access?.listen.port ?? port,
      anyPort: !process.env.EARLY_SET_PORT && !access?.listen.port,
      workersElsewhere: listen ? reachable(folder, listen, database.port, database.certificate) : null,
      demoRoot: demo ? join(demoFolder, 'music') : null,
      catalogueUrl: process.env.EARLY_SET_CATALOGUE_URL ?? catalogue?.address ?? null,
      poolUrl: process.env.EARLY_SET_POOL_URL ?? pool?.address ?? null,
    };
    desk = await openDesk(options, (error) => {
      console.error('The desk does not start again. npm run restore puts a backup in place.');
      console.error(error);
      void stop(null);
    });
    lock.set(desk.address);
    if (!process.env.EARLY_SET_PORT && !access) settings.save({ httpPort: desk.server().port });
    if (network['without-tls']) console.error('· without TLS all of it can be read by whoever is in between');
    if (listen) say(`workers on other computers join with ${join(folder, 'worker.json')}`);
    if (demo && !many) maker = makeDemo(demoFolder, desk, database.url, () => stopping);
    if (many) {
      const { seedMany } = await import(join(ROOT, 'dist/demo/many.mjs'));
      say(`seeding made-up tracks: ${await seedMany(database.url, 100_000)}`);
      const { seedLists } = await import(join(ROOT, 'dist/demo/lists.mjs'));
      await seedLists(database.url, 200);
      desk.server().libraryReplaced();
    }
    console.log(
      `\nEarly Set is at ${desk.address}  (${((Date.now() - started) / 1000).toFixed(1)} s; Ctrl-C stops it)\n`,
    );
  },
  () => cleanUp(),
);
