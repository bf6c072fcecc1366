/** `npm run worker -- --join FILE`: a worker on another computer than the library. */
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { Problem } from './base/problem.ts';
import { isAway } from './db/database.ts';
import { joinUrl, readJoinFile } from './elsewhere/joinFile.ts';
import { readMap } from './elsewhere/rootsHere.ts';
import { workElsewhere, type WorkerElsewhere } from './elsewhere/workElsewhere.ts';

export interface JoinWish {
  /** The file that the server wrote. */
  file: string;
  /** Host and port where a tunnel to the database begins. */
  at: string | null;
  /** THERE=HERE. */
  maps: readonly string[];
  /** Of this worker, for what it needs. */
  folder: string;
}

/** @throws Problem in words where it cannot join */
export async function joinElsewhere(
  { file, at, maps, folder }: JoinWish,
  say: (sentence: string) => void,
  gaveUp: (reason: string) => void,
): Promise<WorkerElsewhere> {
  const there = readJoinFile(file);
  const certificate = join(folder, 'database.crt');
  writeFileSync(certificate, there.certificate);
  if (at !== null && !/^(?:\[[^\]]+\]|[^:/@]+):\d{1,5}$/.test(at))
    throw new Problem(400, 'bad-at', `--at takes a name and a port, such as 127.0.0.1:5433, not ${at}`);
  try {
    return await workElsewhere({
      ...{ databaseUrl: joinUrl(there, certificate, at), maps: maps.map(readMap), say, gaveUp },
    });
  } catch (error) {
    if (error instanceof Problem) throw error;
    const { message } = error as Error;
    const where = at ?? `${there.address}:${there.port}`;
    const why = isAway(error) ? 'Is Early Set running there, and does it listen for workers?' : `(${message})`;
    throw new Problem(503, 'not-reached', `The library at ${where} does not let this worker in. ${why}`);
  }
}
