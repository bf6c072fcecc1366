/** Where the server listens for others, and under which names it may be asked. */
import { readFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { Problem } from '../base/problem.ts';

export interface Listen {
  /** An address of this computer; "0.0.0.0" or "::" for all. */
  address: string;
  port: number | null;
  /** Names and addresses under which it may be asked, without ports, in small letters. */
  hosts: string[];
  tls: { cert: Buffer; key: Buffer } | null;
  /** Something before it speaks TLS, and says whom it speaks for. */
  proxied: boolean;
}

export interface ListenArguments {
  listen: string;
  host?: string[] | undefined;
  tlsCert?: string | undefined;
  tlsKey?: string | undefined;
  behindProxy?: boolean | undefined;
  withoutTls?: boolean | undefined;
}

const wrong = (words: string): Problem => new Problem(400, 'bad-listen', words);

function addressOf(text: string): { address: string; port: number | null } {
  const [, bracketed, plain, port] = /^(?:\[([^\]]+)\]|([^:]+|[^:]*(?::[^:]*){2,}))(?::(\d{1,5}))?$/.exec(text) ?? [];
  const address = bracketed ?? plain ?? '';
  if (isIP(address) === 0) throw wrong(`--listen takes an address of this computer, such as 192.168.1.20, not ${text}`);
  const number = port === undefined ? null : Number(port);
  if (number !== null && (number < 1 || number > 65_535)) throw wrong(`There is no port ${port}`);
  return { address, port: number };
}

const isLoopback = (address: string): boolean => address === '::1' || address.startsWith('127.');

function read(path: string, what: string): Buffer {
  try {
    return readFileSync(path);
  } catch (error) {
    throw wrong(`The ${what} cannot be read: ${(error as Error).message}`);
  }
}

/** @throws Problem in words where it cannot be done so */
export function readListen(given: ListenArguments): Listen {
  const { address, port } = addressOf(given.listen);
  const every = address === '0.0.0.0' || address === '::';
  const named = (given.host ?? []).map((host) => host.toLowerCase());
  const odd = named.find((host) => !/^[a-z0-9.-]+$/.test(host) && isIP(host) === 0);
  if (odd !== undefined) throw wrong(`--host takes a name without a port, such as music.lan, not ${odd}`);
  if (every && named.length === 0)
    throw wrong('On all addresses it has to be said by --host under which name it is asked');
  const { tlsCert, tlsKey, behindProxy = false, withoutTls = false } = given;
  if ((tlsCert === undefined) !== (tlsKey === undefined)) throw wrong('TLS needs both --tls-cert and --tls-key');
  const ways = [tlsCert !== undefined, behindProxy, withoutTls].filter(Boolean).length;
  if (behindProxy && (!isLoopback(address) || named.length === 0))
    throw wrong('Behind a proxy it listens at 127.0.0.1, and --host says under which name the proxy is asked');
  if (ways > 1) throw wrong('--tls-cert, --behind-proxy and --without-tls: only one of them');
  if (ways === 0)
    throw wrong(
      'Over a network it needs TLS: --tls-cert and --tls-key, or --behind-proxy. ' +
        '--without-tls sends all of it, the passphrase too, as anybody in between can read it',
    );
  return {
    ...{ address, port, proxied: behindProxy },
    hosts: [...new Set([...named, ...(every ? [] : [address]), '127.0.0.1', 'localhost', '::1'])],
    tls: tlsCert === undefined ? null : { cert: read(tlsCert, 'certificate'), key: read(tlsKey!, 'key') },
  };
}

/** The name in a Host header, without its port. */
export function nameInHost(host: string): string {
  const [, bracketed, plain] = /^(?:\[([^\]]+)\]|([^:]+))(?::\d{1,5})?$/.exec(host) ?? [];
  return (bracketed ?? plain ?? '').toLowerCase();
}
