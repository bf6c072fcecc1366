/**
 * Whimbrel Index over HTTP, on loopback. It limits how often it may be asked, is slow at times, sometimes down, and
 * knows not everything; POST /control sets how much of that, for trying things out.
 */
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { drawPicture } from './picture.ts';
import { hear, openRecordings, recordingKey } from './recordings.ts';
import { makeReleases, type WhimbrelRelease } from './releases.ts';

export interface Mood {
  /** Requests a second; more are answered with 429. */
  limit: number;
  /** Every so many-th answer takes `slowMs`; 0 never. */
  slowEvery: number;
  slowMs: number;
  /** Every so many-th request begins `downMs` of 503; 0 never. */
  downEvery: number;
  downMs: number;
  /** Down until told otherwise. */
  down: boolean;
}
export const DEFAULT_MOOD: Mood = { limit: 12, slowEvery: 25, slowMs: 1200, downEvery: 150, downMs: 2500, down: false };

export interface Whimbrel {
  address: string;
  stop: () => Promise<void>;
}

const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()
    .toLowerCase();
const wordsOf = (text: string): string[] => plain(text).split(' ').filter(Boolean);
/** Share of the asked words that are there, begun ones counting half. */
function hits(asked: string, there: string): number {
  const words = wordsOf(asked),
    have = wordsOf(there);
  if (words.length === 0) return 0;
  return (
    words.reduce((n, w) => n + (have.includes(w) ? 1 : have.some((h) => h.startsWith(w.slice(0, 4))) ? 0.5 : 0), 0) /
    words.length
  );
}

function search(
  releases: readonly WhimbrelRelease[],
  asked: { artist: string; album: string; title: string },
  limit: number,
): {
  id: string;
  title: string;
  artists: string[];
  year: number;
  country: string;
  format: string;
  tracks: number;
  relevance: number;
}[] {
  const scored = releases.map((r) => {
    const line = Math.max(
      0,
      ...r.tracks.map(
        (t) => hits(asked.title, `${t.title} ${t.version ?? ''}`) * 0.7 + hits(asked.artist, t.artists.join(' ')) * 0.3,
      ),
    );
    const parts: [number, number][] = [];
    if (asked.artist)
      parts.push([
        1,
        Math.max(
          hits(asked.artist, r.artists.join(' ')),
          asked.title ? line : 0,
          ...r.tracks.map((t) => hits(asked.artist, t.artists.join(' ')) * 0.9),
        ),
      ]);
    if (asked.album) parts.push([asked.title ? 0.6 : 1.4, hits(asked.album, r.title)]);
    if (asked.title) parts.push([1.4, line]);
    const weight = parts.reduce((n, [w]) => n + w, 0);
    return { r, relevance: weight ? parts.reduce((n, [w, v]) => n + w * v, 0) / weight : 0 };
  });
  return scored
    .filter((s) => s.relevance > 0.45)
    .sort((a, b) => b.relevance - a.relevance || (a.r.id < b.r.id ? -1 : 1))
    .slice(0, limit)
    .map(({ r, relevance }) => ({
      id: r.id,
      title: r.title,
      artists: r.artists,
      year: r.year,
      country: r.country,
      format: r.format,
      tracks: r.tracks.length,
      relevance: Number(relevance.toFixed(3)),
    }));
}

async function bodyOf(request: IncomingMessage): Promise<Record<string, unknown>> {
  let text = '';
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > 1_000_000) throw new RangeError('too long');
  }
  return JSON.parse(text || '{}') as Record<string, unknown>;
}

function send(response: ServerResponse, status: number, body: unknown, headers: Record<string, string> = {}): void {
  response.writeHead(status, { 'Content-Type': 'application/json; charset=utf-8', ...headers });
  response.end(JSON.stringify(body));
}

/** Starts it. @param recordingsFile JSON Lines of recordings; null when nobody has handed any in */
export async function startWhimbrel({
  port = 0,
  recordingsFile = null,
  mood: first = DEFAULT_MOOD,
}: { port?: number; recordingsFile?: string | null; mood?: Mood } = {}): Promise<Whimbrel> {
  const recordings = openRecordings(recordingsFile);
  let mood = first,
    asked = 0,
    downUntil = 0;
  let recent: number[] = [];
  let made: { changed: number; releases: WhimbrelRelease[] } | null = null;
  const releases = (): WhimbrelRelease[] => {
    const { byKey, changed } = recordings();
    if (made?.changed !== changed) made = { changed, releases: makeReleases(byKey) };
    return made.releases;
  };
  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const url = new URL(request.url ?? '/', 'http://whimbrel'),
      now = Date.now();
    if (request.method === 'POST' && url.pathname === '/control') {
      mood = { ...mood, ...(await bodyOf(request)) };
      downUntil = 0;
      recent = [];
      send(response, 200, mood);
      return;
    }
    asked++;
    if (mood.downEvery && asked % mood.downEvery === 0) downUntil = now + mood.downMs;
    if (mood.down || now < downUntil) {
      send(response, 503, { error: 'The index is being looked after; come back soon' }, { 'Retry-After': '1' });
      return;
    }
    recent = recent.filter((t) => t > now - 1000);
    if (recent.length >= mood.limit) {
      send(response, 429, { error: `No more than ${mood.limit} questions a second` }, { 'Retry-After': '1' });
      return;
    }
    recent.push(now);
    if (mood.slowEvery && asked % mood.slowEvery === 0)
      await new Promise((resolve) => setTimeout(resolve, mood.slowMs));
    const [, version, what, id] = url.pathname.split('/');
    if (version !== 'v1') {
      send(response, 404, { error: 'Not here' });
      return;
    }
    if (what === 'releases' && !id) {
      const text = (name: string): string => (url.searchParams.get(name) ?? '').slice(0, 300);
      send(response, 200, {
        releases: search(
          releases(),
          { artist: text('artist'), album: text('album'), title: text('title') },
          Math.min(25, Number(url.searchParams.get('limit')) || 10),
        ),
      });
    } else if (what === 'releases') {
      const found = releases().find((r) => r.id === id);
      send(response, found ? 200 : 404, found ?? { error: 'There is no such release' });
    } else if (what === 'pictures') {
      const found = releases().find((r) => r.id === id);
      if (!found?.hasPicture) {
        send(response, 404, { error: 'There is no picture' });
        return;
      }
      response.writeHead(200, { 'Content-Type': 'image/jpeg' });
      response.end(await drawPicture(`${found.artists.join()} ${found.title}`));
    } else if (what === 'fingerprints' && request.method === 'POST') {
      const { fingerprint } = await bodyOf(request);
      const heard = hear(recordings().byKey.values(), String(fingerprint));
      send(response, 200, {
        heard: heard.map(({ recording, score }) => {
          const key = recordingKey(recording.artist.split('; '), recording.title, recording.version);
          return {
            artist: recording.artist.split('; '),
            title: recording.title,
            version: recording.version,
            seconds: recording.seconds,
            score: Number(score.toFixed(3)),
            releases: releases()
              .filter((r) => r.tracks.some((t) => recordingKey(t.artists, t.title, t.version) === key))
              .map((r) => r.id),
          };
        }),
      });
    } else send(response, 404, { error: 'Not here' });
  };
  const server: Server = createServer((request, response) => {
    answer(request, response).catch(() => send(response, 400, { error: 'The question cannot be read' }));
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  return {
    address: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    stop: () =>
      new Promise((resolve) => {
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}
