/** How an application is reached: on this computer only, or from elsewhere by those who have signed in. */
import type { Express } from 'express';
import { createServer, type Server, type ServerOptions } from 'node:http';
import { createServer as createTlsServer } from 'node:https';
import { isIPv6, type AddressInfo } from 'node:net';
import type { Access } from './access.ts';
import { loopbackOnly, securityHeaders } from './guard.ts';

/** Guards come before anything else of it. */
export function guardApp(app: Express, port: () => number, access: Access | null): void {
  if (access?.listen.proxied) app.set('trust proxy', 'loopback');
  app.use(securityHeaders, access ? access.guard : loopbackOnly(port));
}

export function serverFor(app: Express, access: Access | null, options: ServerOptions = {}): Server {
  return access?.listen.tls ? createTlsServer({ ...options, ...access.listen.tls }, app) : createServer(options, app);
}

/** @returns the port it listens at */
export function listenAt(server: Server, port: number, access: Access | null): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, access?.listen.address ?? '127.0.0.1', () => {
      server.off('error', reject);
      resolve((server.address() as AddressInfo).port);
    });
  });
}

/** Where a browser finds it. */
export function addressAt(port: number, access: Access | null): string {
  const name = access ? access.listen.hosts[0]! : '127.0.0.1';
  const host = isIPv6(name) ? `[${name}]` : name;
  if (access?.listen.proxied) return `https://${host}`;
  return `${access?.listen.tls ? 'https' : 'http'}://${host}:${port}`;
}
