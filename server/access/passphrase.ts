/** The passphrase with which one signs in from elsewhere: only its hash is kept, by scrypt (RFC 7914). */
import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto';
import { mkdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';

export const LEAST_LENGTH = 12;
/** 64 MB and some tenths of a second for each try. */
const COST = { N: 2 ** 16, r: 8, p: 1 };
const BYTES = 32;

export interface KeptPassphrase {
  salt: string;
  hash: string;
  N: number;
  r: number;
  p: number;
}

const fileIn = (dataFolder: string): string => join(dataFolder, 'access', 'passphrase.json');
/** So that the same passphrase is the same, however a keyboard composes its letters. */
const bytesOf = (text: string): Buffer => Buffer.from(text.normalize('NFKC'), 'utf8');

const derived = (text: string, salt: Buffer, { N, r, p }: typeof COST): Promise<Buffer> =>
  new Promise((resolve, reject) =>
    scrypt(bytesOf(text), salt, BYTES, { N, r, p, maxmem: 256 * N * r }, (error, key) =>
      error ? reject(error) : resolve(key),
    ),
  );

export async function hashPassphrase(text: string): Promise<KeptPassphrase> {
  const salt = randomBytes(16);
  return { salt: salt.toString('hex'), hash: (await derived(text, salt, COST)).toString('hex'), ...COST };
}

export async function isPassphrase(text: string, { salt, hash, ...cost }: KeptPassphrase): Promise<boolean> {
  const wanted = Buffer.from(hash, 'hex');
  return timingSafeEqual(await derived(text, Buffer.from(salt, 'hex'), cost), wanted);
}

/** @returns why it cannot be one; null when it can */
export const whyNot = (text: string): string | null =>
  [...text].length < LEAST_LENGTH
    ? `A passphrase has at least ${LEAST_LENGTH} characters: some words that belong to nobody`
    : null;

/** Null: none has been set. */
export async function keptPassphrase(dataFolder: string): Promise<KeptPassphrase | null> {
  const text = await readFile(fileIn(dataFolder), 'utf8').catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') return null;
    throw error;
  });
  return text === null ? null : (JSON.parse(text) as KeptPassphrase);
}

export async function keepPassphrase(dataFolder: string, text: string): Promise<void> {
  await writePrivately(fileIn(dataFolder), JSON.stringify(await hashPassphrase(text)));
}
export const forgetPassphrase = (dataFolder: string): Promise<void> => rm(fileIn(dataFolder), { force: true });

/** Whole or not at all, and for nobody else's eyes. */
export async function writePrivately(path: string, text: string): Promise<void> {
  await mkdir(dirname(path), { recursive: true, mode: 0o700 });
  const growing = `${path}.${randomBytes(4).toString('hex')}`;
  await writeFile(growing, text, { mode: 0o600, flag: 'wx', flush: true });
  await rename(growing, path);
}
