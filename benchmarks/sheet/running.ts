/** A desk with made-up tracks, running in a process of its own. */
import { fork } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { seedLists } from '../../demo/lists.ts';
import { seedMany } from '../../demo/many.ts';
import { connect } from '../../server/db/database.ts';
import { migrate } from '../../server/db/migrate.ts';
import { freshDatabase } from '../database.ts';

export interface Desk {
  address: string;
  ask<T>(method: string, path: string, body?: object): Promise<T>;
  /** The most that its process has held so far, in MB. */
  mostMemory(): number;
  stop(): Promise<void>;
}

/** The most memory that a process has held, in MB. */
const mostOf = (pid: number): number =>
  Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024;

export async function runningDesk(tracks: number, lists: number): Promise<Desk> {
  const { url, drop } = await freshDatabase();
  const database = await connect(url);
  await migrate(database);
  await seedMany(url, tracks);
  await seedLists(url, lists);
  await database.run('VACUUM ANALYZE'); // PostgreSQL does it by itself within minutes; no run should depend on when
  await database.close();
  const data = mkdtempSync(join(tmpdir(), 'early-set-bench-'));
  const child = fork(new URL('./desk.mjs', import.meta.url), {
    env: { ...process.env, BENCH_DESK_DATABASE: url, BENCH_DESK_DATA: data },
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
  });
  const address = await new Promise<string>((resolve, reject) => {
    child.once('message', (said) => resolve(String(said)));
    child.once('exit', (code) => reject(new Error(`The desk ended with ${code}`)));
  });
  return {
    address,
    async ask<T>(method: string, path: string, body?: object): Promise<T> {
      const answer = await fetch(`${address}/api${path}`, {
        method,
        headers: { 'content-type': 'application/json' },
        ...(body ? { body: JSON.stringify(body) } : {}),
      });
      if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
      return (await answer.json()) as T;
    },
    mostMemory: () => mostOf(child.pid!),
    async stop() {
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill();
      await ended;
      rmSync(data, { recursive: true, force: true });
      await drop();
    },
  };
}
