/**
 * Knot Pool over HTTP, on loopback. Links to music are made for one who asks and expire; only a few may be fetched at a
 * time, and now and then one breaks off. POST /control sets how much of that, for trying things out.
 */
import { randomUUID } from 'node:crypto';
import { createReadStream, statSync } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { readPool, type PoolTrack } from './data.ts';

export interface Mood {
  /** So long a link is good. */
  linkMs: number;
  /** So many files are sent at a time; more are answered with 429. */
  atOnce: number;
  /** Every so many-th file breaks off in its middle; 0 never. */
  breakEvery: number;
  /** Every so many-th link has expired when it is used; 0 never. */
  expiredEvery: number;
  /** Down until told otherwise. */
  down: boolean;
}
export const DEFAULT_MOOD: Mood = { linkMs: 60_000, atOnce: 2, breakEvery: 9, expiredEvery: 7, down: false };

export interface KnotPool {
  address: string;
  /** How many files were sent to their ends. */
  sent: () => number;
  stop: () => Promise<void>;
}

const PAGE = 50;

async function bodyOf(request: IncomingMessage): Promise<Record<string, unknown>> {
  let text = '';
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > 100_000) throw new RangeError('too long');
  }
  return JSON.parse(text || '{}') as Record<string, unknown>;
}

function say(response: ServerResponse, status: number, body: unknown, headers: Record<string, string> = {}): void {
  response.writeHead(status, { 'Content-Type': 'application/json; charset=utf-8', ...headers });
  response.end(JSON.stringify(body));
}

/** Starts it. @param folder its data */
export async function startKnotPool({
  folder,
  port = 0,
  mood: first = DEFAULT_MOOD,
}: {
  folder: string;
  port?: number;
  mood?: Partial<Mood>;
}): Promise<KnotPool> {
  let mood = { ...DEFAULT_MOOD, ...first };
  const links = new Map<string, { track: PoolTrack; until: number }>();
  let made = 0,
    begun = 0,
    sending = 0,
    sent = 0;

  const offered = ({ file, ...track }: PoolTrack): object => ({
    ...track,
    preview: undefined,
    bytes: statSync(join(folder, 'files', file), { throwIfNoEntry: false })?.size ?? 0,
    format: file.slice(file.lastIndexOf('.') + 1),
  });

  /** Sends a file, or the first half of it. */
  const send = (
    response: ServerResponse,
    path: string,
    name: string,
    half = false,
    whole = (): void => undefined,
  ): Promise<void> =>
    new Promise((resolve) => {
      const { size } = statSync(path);
      response.writeHead(200, {
        'Content-Type': 'audio/mpeg',
        'Content-Length': String(size),
        'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      });
      const stream = createReadStream(path, half ? { end: Math.max(0, Math.floor(size / 2) - 1) } : {});
      response.on('close', resolve);
      stream.on('error', () => response.destroy());
      stream.on('end', () => {
        if (half) response.destroy();
        else response.end(() => void whole());
      });
      stream.pipe(response, { end: false });
    });

  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const url = new URL(request.url ?? '/', 'http://knotpool');
    if (request.method === 'POST' && url.pathname === '/control') {
      mood = { ...mood, ...(await bodyOf(request)) };
      say(response, 200, mood);
      return;
    }
    if (mood.down) {
      say(response, 503, { error: 'The pool is closed for a moment' }, { 'Retry-After': '1' });
      return;
    }
    const { tracks, lists } = readPool(folder);
    const [, version, what, id, ask] = url.pathname.split('/');
    if (version === 'fetch') {
      const link = links.get(what ?? '');
      if (!link) return say(response, 404, { error: 'There was never such a link' });
      if (link.until < Date.now()) return say(response, 410, { error: 'This link has expired; ask for another' });
      if (sending >= mood.atOnce)
        return say(response, 429, { error: `No more than ${mood.atOnce} at a time` }, { 'Retry-After': '1' });
      begun++;
      sending++;
      const half = mood.breakEvery > 0 && begun % mood.breakEvery === 0;
      await send(response, join(folder, 'files', link.track.file), link.track.file, half, () => void sent++).finally(
        () => sending--,
      );
      return;
    }
    if (version !== 'v1') return say(response, 404, { error: 'Not here' });
    const track = tracks.find((t) => t.id === id);
    if (what === 'lists') say(response, 200, { lists });
    else if (what === 'tracks' && !id) {
      const after = url.searchParams.get('after');
      const from = after === null ? 0 : tracks.findIndex((t) => t.id === after) + 1;
      const page = tracks.slice(from, from + PAGE);
      say(response, 200, { tracks: page.map(offered), more: from + PAGE < tracks.length });
    } else if (what === 'previews' && track)
      await send(response, join(folder, 'previews', track.preview), track.preview);
    else if (what === 'tracks' && track && ask === 'link' && request.method === 'POST') {
      made++;
      const token = randomUUID();
      const late = mood.expiredEvery > 0 && made % mood.expiredEvery === 0;
      const until = Date.now() + (late ? -1 : mood.linkMs);
      links.set(token, { track, until });
      say(response, 200, { link: `/fetch/${token}`, name: track.file, until: new Date(until).toISOString() });
    } else say(response, 404, { error: 'Not here' });
  };

  const server: Server = createServer((request, response) => {
    answer(request, response).catch(() => {
      if (response.headersSent) response.destroy();
      else say(response, 400, { error: 'The question cannot be read' });
    });
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    sent: () => sent,
    stop: () =>
      new Promise((resolve) => {
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}
