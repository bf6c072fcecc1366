/**
 * What a worker on another computer needs to join: where the database is, its password, and the certificate by which it
 * is known. One file, carried over by hand.
 */
import { readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Joi from 'joi';
import { Problem } from '../base/problem.ts';
import { WORKER_ROLE } from './role.ts';

export interface JoinFile {
  address: string;
  port: number;
  database: string;
  password: string;
  /** PEM. The database has no other. */
  certificate: string;
}

const SHAPE = Joi.object<JoinFile>({
  address: Joi.string().ip().required(),
  port: Joi.number().port().required(),
  database: Joi.string().required(),
  password: Joi.string().required(),
  certificate: Joi.string()
    .pattern(/BEGIN CERTIFICATE/)
    .required(),
});

export const joinFileIn = (dataFolder: string): string => join(dataFolder, 'worker.json');

export function writeJoinFile(dataFolder: string, file: JoinFile): void {
  const path = joinFileIn(dataFolder);
  rmSync(path, { force: true }); // made anew, so that nobody else may read it
  writeFileSync(path, `${JSON.stringify(file, null, 2)}\n`, { mode: 0o600 });
}

export const removeJoinFile = (dataFolder: string): void => rmSync(joinFileIn(dataFolder), { force: true });

/** @throws Problem in words where it is none */
export function readJoinFile(path: string): JoinFile {
  const wrong = (why: string): Problem => new Problem(400, 'bad-join', `${path} is no file to join with: ${why}`);
  let read: unknown;
  try {
    read = JSON.parse(readFileSync(path, 'utf8'));
  } catch (error) {
    throw wrong((error as Error).message);
  }
  const { value, error } = SHAPE.validate(read, { allowUnknown: true });
  if (error) throw wrong(error.message);
  return value as JoinFile;
}

/**
 * The address to connect by. The certificate has to be the one in the file, whatever name it is asked under: a tunnel
 * ends at another one.
 * @param at where a tunnel to it begins
 * @param certificatePath where the certificate of the file lies by now
 */
export function joinUrl(file: JoinFile, certificatePath: string, at: string | null): string {
  const host = file.address.includes(':') ? `[${file.address}]` : file.address;
  const url = new URL(`postgres://${at ?? `${host}:${file.port}`}`);
  url.username = WORKER_ROLE;
  url.password = file.password;
  url.pathname = `/${encodeURIComponent(file.database)}`;
  url.search = new URLSearchParams({
    ...{ sslmode: 'verify-ca', uselibpqcompat: 'true', sslrootcert: certificatePath },
  }).toString();
  return url.href;
}
