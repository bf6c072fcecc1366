/** The database for workers on other computers: where it listens, by which certificate it is known, who is let in. */
import { randomBytes } from 'node:crypto';
import { chownSync, existsSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { join } from 'node:path';
import { settingsOf } from './settings.mjs';
import { quiet, SetupError } from './run.mjs';

const VARIABLE = 'EARLY_SET_DATABASE_LISTEN';
const isLoopback = (address) => address === '::1' || address.startsWith('127.');

/**
 * Where it is to listen besides, as the variable says: an address of this computer and perhaps a port. With an address
 * of loopback a tunnel can lead there.
 * @returns {{ address: string, port: number | null } | null} null: for this computer's own use only
 */
export function databaseListen(text = process.env[VARIABLE]) {
  if (!text) return null;
  const [, bracketed, plain, port] = /^(?:\[([^\]]+)\]|([^:]+|[^:]*(?::[^:]*){2,}))(?::(\d{1,5}))?$/.exec(text) ?? [];
  const address = bracketed ?? plain ?? '';
  if (isIP(address) === 0 || ['0.0.0.0', '::'].includes(address))
    throw new SetupError(`${VARIABLE} takes one address of this computer, such as 192.168.1.20, not ${text}`);
  const number = port === undefined ? null : Number(port);
  if (number !== null && (number < 1024 || number > 65_535))
    throw new SetupError(`${VARIABLE}: there is no port ${port}`);
  return { address, port: number };
}

/** The addresses that PostgreSQL listens at. */
export const addressesOf = (listen) =>
  ['127.0.0.1', ...(listen && listen.address !== '127.0.0.1' ? [listen.address] : [])].join(',');

/** The certificate, made once and good for ten years: workers know the database by it, and by nothing else. */
export function certificateIn(folder) {
  const cert = join(folder, 'server.crt'),
    key = join(folder, 'server.key');
  if (!existsSync(cert) || !existsSync(key)) {
    const made = quiet('openssl', [
      ...['req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-days', '3650'],
      ...['-subj', '/CN=early-set', '-keyout', key, '-out', cert],
    ]);
    if (!made.ok) throw new SetupError(`The database's certificate could not be made by openssl: ${made.err.trim()}`);
    const { uid, gid } = statSync(folder);
    for (const path of [cert, key]) chownSync(path, uid, gid);
  }
  return { cert, key, pem: readFileSync(cert, 'utf8') };
}

const MARK = '# Workers on other computers; this line and all below are written anew at each start.';

/** Lets the role of workers in from elsewhere, by TLS and its password, and nobody else. */
export function writeAccess(cluster, listen) {
  const path = join(cluster, 'pg_hba.conf');
  const own = readFileSync(path, 'utf8').split(`\n${MARK}`)[0].trimEnd();
  const lines =
    listen && !isLoopback(listen.address)
      ? ['0.0.0.0/0', '::/0'].map((from) => `hostssl postgres early_set_worker ${from} scram-sha-256`)
      : [];
  const text = [own, ...(lines.length ? [MARK, ...lines] : []), ''].join('\n');
  if (text === readFileSync(path, 'utf8')) return;
  const { uid, gid } = statSync(path);
  writeFileSync(`${path}.new`, text, { mode: 0o600 });
  chownSync(`${path}.new`, uid, gid);
  renameSync(`${path}.new`, path);
}

/** What a worker needs to know to reach it. */
export function reachable(dataFolder, listen, port, pem) {
  const settings = settingsOf(dataFolder);
  if (!settings.values.workerPassword) settings.save({ workerPassword: randomBytes(24).toString('base64url') });
  return { address: listen.address, port, password: settings.values.workerPassword, certificate: pem };
}
