/** For API tests: a fresh database each, the real application in this process, real files in a folder of their own. */
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import pg from 'pg';
import request from 'supertest';
import { testDatabase } from './database.ts';
import { start, type RunningServer, type ServerOptions } from '../main.ts';
import type { Access } from '../access/access.ts';
import { asMetadata, synthesize } from './ffmpeg.ts';

export interface Harness {
  server: RunningServer;
  folder: string;
  music: string;
  databaseUrl: string;
  get: (path: string) => request.Test;
  post: (path: string, body?: object) => request.Test;
  put: (path: string, body: object) => request.Test;
  patch: (path: string, body: object) => request.Test;
  delete: (path: string) => request.Test;
  /** Waits until a question answers true. @throws after 40 s. */
  until: (question: () => Promise<boolean>, what: string) => Promise<void>;
  /** Takes a folder in and waits until everything there is measured (or has failed). */
  takeIn: (path?: string, measure?: boolean) => Promise<number>;
  query: <T>(text: string, values?: unknown[]) => Promise<T[]>;
  /** @param meanwhile done while no server is there */
  restart: (meanwhile?: () => unknown) => Promise<void>;
  stop: () => Promise<void>;
}

/** A tone or click file made by ffmpeg; the ending decides the format. */
export function makeAudio(
  path: string,
  {
    seconds = 3,
    hz = 440,
    tags = {},
    args = [],
  }: { seconds?: number; hz?: number; tags?: Record<string, string>; args?: string[] } = {},
): void {
  synthesize(path, `sine=frequency=${hz}:sample_rate=44100:duration=${seconds}`, ...asMetadata(tags), ...args);
}

const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** Starts a server on a database of its own, which has been started once before. */
export async function startHarness({
  threads = 1,
  compare = false,
  maxBytesAtOnce,
  step,
  beforeStart,
  access,
  webFolder,
}: {
  threads?: number;
  /** More work on files than this becomes a run. */
  maxBytesAtOnce?: number;
  /** True: duplicates are looked for by themselves, as in the application. */
  compare?: boolean;
  /** Told at each step of work on a file; it waits for the answer. */
  step?: ServerOptions['step'];
  /** Fills the fresh database before the server sees it. */
  beforeStart?: (databaseUrl: string) => void | Promise<void>;
  /** It listens for others: asked at each start, for its data folder. */
  access?: (dataFolder: string) => Promise<Access>;
  /** Makes a page below this folder. */
  webFolder?: (folder: string) => string;
} = {}): Promise<Harness> {
  const { url: databaseUrl, drop } = await testDatabase({ empty: beforeStart !== undefined });
  const folder = mkdtempSync(join(tmpdir(), 'early-set-test-'));
  const music = join(folder, 'music');
  mkdirSync(music);
  process.env.EARLY_SET_PLACES = folder;
  const options = {
    databaseUrl,
    dataFolder: join(folder, 'data'),
    webFolder: webFolder?.(folder) ?? null,
    port: 0,
    demoRoot: null,
    threads,
    compare,
    ...(step ? { step } : {}),
    ...(maxBytesAtOnce === undefined ? {} : { maxBytesAtOnce }),
    threadFolder: pathToFileURL(join(process.cwd(), 'dist/server/')),
  };
  await beforeStart?.(databaseUrl);
  const startNow = async (): Promise<RunningServer> =>
    start({ ...options, access: (await access?.(options.dataFolder)) ?? null });
  let server = await startNow();
  const pool = new pg.Pool({ connectionString: databaseUrl, max: 2 });
  pool.on('error', () => undefined);
  const until: Harness['until'] = async (question, what) => {
    const tell = setTimeout(() => void waitingFor(what), 30_000);
    try {
      for (const end = Date.now() + 100_000; Date.now() < end; await pause(60)) if (await question()) return;
    } finally {
      clearTimeout(tell);
    }
    throw new Error(`Waited in vain until ${what}`);
  };
  /** What is in the way, when a test waits so long that it may end before it can say. */
  const waitingFor = async (what: string): Promise<void> => {
    const jobs = await pool.query('SELECT task_identifier, key, attempts, locked_at, run_at FROM graphile_worker.jobs');
    const runs = await pool.query("SELECT id, kind, total, done, failed FROM runs WHERE state = 'running'");
    const busy = await pool.query(
      `SELECT state, wait_event, left(query, 200) AS query FROM pg_stat_activity WHERE datname = current_database()
        AND state <> 'idle' AND pid <> pg_backend_pid()`,
    );
    console.error(`Waiting until ${what}:`, JSON.stringify([jobs.rows, runs.rows, busy.rows], null, 1));
  };
  const query = async <T>(text: string, values: unknown[] = []): Promise<T[]> =>
    (await pool.query(text, values)).rows as T[];
  const harness: Harness = {
    get server() {
      return server;
    },
    folder,
    music,
    databaseUrl,
    get: (path) => request(server.address).get(`/api${path}`),
    post: (path, body = {}) => request(server.address).post(`/api${path}`).send(body),
    put: (path, body) => request(server.address).put(`/api${path}`).send(body),
    patch: (path, body) => request(server.address).patch(`/api${path}`).send(body),
    delete: (path) => request(server.address).delete(`/api${path}`),
    until,
    async takeIn(path = music, measure = true) {
      const { body } = await harness.post('/roots', { path, measure }).expect(200);
      const { rootId, runId } = body as { rootId: number; runId: number };
      await until(
        async () =>
          (await query<{ state: string }>('SELECT state FROM runs WHERE id = $1', [runId]))[0]?.state !== 'running',
        'the folder is read',
      );
      if (measure)
        await until(
          async () =>
            (
              await query<{ n: number }>(
                "SELECT count(*) AS n FROM tracks WHERE analysis_state IN ('none', 'waiting', 'running')",
              )
            )[0]!.n === 0,
          'all is measured',
        );
      return rootId;
    },
    query,
    async restart(meanwhile) {
      await server.stop();
      await meanwhile?.();
      server = await startNow();
    },
    async stop() {
      await server.stop();
      await pool.end();
      await drop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
  return harness;
}
