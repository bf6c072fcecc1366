/** The server: API, page, events and one worker in a process. */
import type { Duplex } from 'node:stream';
import type { ChangeContext } from './changes/context.ts';
import { setServiceAddress } from './db/services.ts';
import { listen, type DatabaseEvent } from './db/database.ts';
import { createApp } from './http/app.ts';
import { queueScan } from './intake/scans.ts';
import { keepWatched } from './intake/watching.ts';
import { keepUses } from './dates/uses.ts';
import { createCounts } from './library/facets/counts.ts';
import { createSheets } from './library/sheets.ts';
import { createFacetCache } from './library/facets/facets.ts';
import { keepCompared } from './disk/keepCompared.ts';
import { keepMeasured } from './jobs/measureAgain.ts';
import { keepLooked } from './handover/keepLooked.ts';
import { createLookPool } from './handover/lookPool.ts';
import { keepMarked } from './disk/keepMarked.ts';
import { keepQuarantine } from './disk/quarantine.ts';
import type { Access } from './access/access.ts';
import { addressAt, listenAt, serverFor } from './access/listening.ts';
import { createComparePool } from './disk/comparePool.ts';
import { copyDaily } from './musicCopy/daily.ts';
import { letWorkersIn, type Reachable } from './elsewhere/letIn.ts';
import { createRelinkPool } from './disk/relinkPool.ts';
import { keepBackups } from './backups/keepBackups.ts';
import { finishRestore } from './backups/restore.ts';
import type { Restoring } from './backups/restoring.ts';
import type { Handover } from './handover/compare.ts';
import { createHourPool } from './hours/hourPool.ts';
import { createListPool } from './lists/listPool.ts';
import { createRuleMembers, keepFilled } from './lists/ruleMembers.ts';
import { removeLeftZips } from './stick/zipList.ts';
import { ensureDemoRoot } from './demoRoot.ts';
import { log } from './base/log.ts';
import { work, type WorkerOptions } from './worker.ts';

export { keepGoing } from './base/log.ts';

export interface ServerOptions extends WorkerOptions {
  /** Built page; null serves the API alone. */
  webFolder: string | null;
  /** 0 takes a free one. */
  port: number;
  /** Takes a free one too where that has been taken meanwhile. */
  anyPort?: boolean;
  /** Folder of the demo music; null without the demo. */
  demoRoot: string | null;
  /** False: duplicates are looked for only when somebody asks. */
  compare?: boolean;
  /** Backups are made by themselves, at their time. */
  backUp?: boolean;
  /** It listens for others, who have to sign in; null or left out: for this computer only. */
  access?: Access | null;
  /** By whom backups are restored; nobody, where this server cannot be stopped for it. */
  restoring?: Restoring;
  /** Where workers on other computers reach the database; null: nowhere. Left out, nothing is changed about it. */
  workersElsewhere?: Reachable | null;
  /** Where the catalogue is; null when there is none. */
  catalogueUrl?: string | null;
  /** Where the pool is; null when there is none. */
  poolUrl?: string | null;
}

export interface RunningServer {
  address: string;
  port: number;
  /** For tests: what makes changes. */
  changing: ChangeContext;
  /** For tests: what compares and makes alike. */
  handover: Handover;
  /** Demo music has been added: scan soon. */
  musicArrived(): void;
  /** Tracks were changed in bulk behind the server's back. */
  libraryReplaced(): void;
  stop(): Promise<void>;
}

/**
 * Filters stand in the address of a page, which a reload asks for; what the page asks for is sent (`longQuestions`).
 */
const MAX_ADDRESS_BYTES = 64 * 1024;

/** What cannot be read as a request at all is refused in the shape of all refusals. */
function refuseUnreadable(error: NodeJS.ErrnoException, socket: Duplex): void {
  if (!socket.writable) return;
  const tooLong = error.code === 'HPE_HEADER_OVERFLOW';
  const message = tooLong ? 'The address of the request is too long' : 'The request could not be understood';
  const body = JSON.stringify({ error: { code: tooLong ? 'too-long' : 'bad-request', message } });
  const line = tooLong ? '431 Request Header Fields Too Large' : '400 Bad Request';
  const head = `Content-Type: application/json\r\nContent-Length: ${Buffer.byteLength(body)}\r\nConnection: close`;
  socket.end(`HTTP/1.1 ${line}\r\n${head}\r\n\r\n${body}`);
}

/** What can put tracks into crates that fill themselves, or change what is counted. */
const FILLS: ReadonlySet<DatabaseEvent['kind']> = new Set(['tracks', 'lists', 'dates', 'settings']);

/** What can make other tracks meet a condition. */
const NARROWS: ReadonlySet<DatabaseEvent['kind']> = new Set(['tracks', 'lists', 'dates', 'settings', 'run', 'roots']);

/** What can put files out of place, or make duplicates of them. */
const MARKS: ReadonlySet<DatabaseEvent['kind']> = new Set(['tracks', 'lists', 'settings', 'run', 'roots']);

/** What can be other than at a destination. */
const COMPARES: ReadonlySet<DatabaseEvent['kind']> = new Set(['tracks', 'lists']);

const MISSED: readonly DatabaseEvent[] = [
  { kind: 'tracks' },
  { kind: 'lists', listIds: [] },
  { kind: 'changes' },
  { kind: 'dates' },
];

/** Starts everything; resolves when the page can be opened. */
export async function start(options: ServerOptions): Promise<RunningServer> {
  await finishRestore(options.databaseUrl, options.dataFolder);
  const worker = await work(options, true);
  const { database, queue, art, changing, runs, placesPool, states, plans, stickPool } = worker;
  if (options.workersElsewhere !== undefined)
    await letWorkersIn(database, options.dataFolder, options.workersElsewhere);
  await setServiceAddress(database, 'catalogue', options.catalogueUrl ?? null);
  await setServiceAddress(database, 'pool', options.poolUrl ?? null);
  await removeLeftZips(options.dataFolder);
  let port = options.port;
  const counts = createCounts(database);
  const facets = createFacetCache(database, counts);
  const sheets = createSheets(database);
  const moved = (listIds: string[]): void => void database.notify({ kind: 'lists', listIds });
  const members = createRuleMembers(database, moved, undefined, counts);
  const filling = keepFilled(members, counts);
  const listPool = createListPool(new URL('./listThread.mjs', options.threadFolder ?? import.meta.url));
  const hourPool = createHourPool(new URL('./hourThread.mjs', options.threadFolder ?? import.meta.url));
  const relinkPool = createRelinkPool(new URL('./relinkThread.mjs', options.threadFolder ?? import.meta.url));
  const comparePool = createComparePool(new URL('./compareThread.mjs', options.threadFolder ?? import.meta.url), 1);
  const uses = keepUses(changing);
  const emptying = keepQuarantine(changing);
  const watching = keepWatched(database, runs.intake);
  const marking = keepMarked(database, placesPool);
  const lookPool = createLookPool(new URL('./lookThread.mjs', options.threadFolder ?? import.meta.url));
  const handover: Handover = {
    database,
    changing,
    states,
    art,
    lookPool,
    dataFolder: options.dataFolder,
    steps: new Map(),
  };
  const lookingThere = keepLooked(handover);
  const measuring = keepMeasured(database, queue);
  const backingUp = options.backUp
    ? keepBackups(runs.backup, options.dataFolder, () => copyDaily(runs.musicCopy))
    : null;
  const comparing = options.compare === false ? null : keepCompared(database, runs.duplicates);
  const access = options.access ?? null;
  const app = createApp(
    {
      database,
      queue,
      art,
      changing,
      runs,
      facets,
      sheets,
      counts,
      members,
      listPool,
      hourPool,
      relinkPool,
      comparePool,
      placesPool,
      states,
      handover,
      sticks: { database, changing, plans, stickPool, steps: new Map() },
      dataFolder: options.dataFolder,
      restoring: options.restoring ?? null,
      demoRoot: options.demoRoot,
    },
    options.webFolder,
    () => port,
    access,
  );
  const unlisten = await listen(
    options.databaseUrl,
    (event) => {
      if (event.kind === 'tracks' || event.kind === 'settings') facets.forget();
      if (NARROWS.has(event.kind)) sheets.forget();
      if (event.kind === 'settings') counts.changed();
      if (FILLS.has(event.kind)) filling.soon();
      if (event.kind === 'dates') uses.soon();
      if (event.kind === 'settings') emptying.soon();
      if (event.kind === 'run') comparing?.soon();
      if (MARKS.has(event.kind)) marking.soon();
      if (COMPARES.has(event.kind)) lookingThere.soon();
      if (event.kind === 'roots') watching.soon();
      if (event.kind === 'tracks' || event.kind === 'roots') measuring.soon();
      app.tell(event);
    },
    () => {
      facets.forget();
      sheets.forget();
      filling.soon();
      marking.soon();
      watching.soon();
      measuring.soon();
      // What was told while nobody heard it is asked for anew.
      for (const event of MISSED) app.tell(event);
    },
  );
  void facets.facets({}).catch(() => undefined); // the first page asks for just this
  const server = serverFor(app.express, access, { maxHeaderSize: MAX_ADDRESS_BYTES });
  server.on('clientError', refuseUnreadable);
  // Somebody else may have taken it since it was found to be free.
  port = await listenAt(server, options.port, access).catch((error: NodeJS.ErrnoException) => {
    if (!options.anyPort || error.code !== 'EADDRINUSE') throw error;
    return listenAt(server, 0, access);
  });
  const demoRoot = options.demoRoot === null ? null : await ensureDemoRoot(database, options.demoRoot);
  let due: NodeJS.Timeout | null = null;
  return {
    address: addressAt(port, access),
    port,
    changing,
    handover,
    musicArrived() {
      if (!demoRoot || due) return;
      due = setTimeout(() => {
        due = null;
        queueScan(runs.intake, demoRoot).catch((error: unknown) => log.error(error, 'the demo could not be scanned'));
      }, 1500);
    },
    libraryReplaced() {
      void database.notify({ kind: 'tracks' });
    },
    async stop() {
      if (due) clearTimeout(due);
      await filling.stop();
      await uses.stop();
      await comparing?.stop();
      await backingUp?.stop();
      await emptying.stop();
      await marking.stop();
      await lookingThere.stop();
      await measuring.stop();
      await watching.stop();
      await listPool.close();
      await hourPool.close();
      await relinkPool.close();
      await lookPool.close();
      await comparePool.close();
      // First nobody new, then nobody: one who came in between would be waited for.
      const closed = new Promise((resolve) => server.close(resolve));
      server.closeAllConnections();
      await closed;
      await unlisten();
      await worker.stop();
    },
  };
}
