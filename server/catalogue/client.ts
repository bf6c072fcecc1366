/**
 * Asking the catalogue, politely: one question at a time, no quicker than it likes, waiting when it is down, and never
 * the same question twice.
 */
import { createHash } from 'node:crypto';
import type { Release } from '@early-set/core/catalogue/releases';
import type { Database } from '../db/database.ts';

export interface FoundRelease {
  id: string;
  title: string;
  relevance: number;
}
export interface HeardRecording {
  artist: string[];
  title: string;
  version: string | null;
  seconds: number;
  score: number;
  releases: string[];
}

/** It did not answer although it was asked several times. */
export class CatalogueDown extends Error {}

export interface Catalogue {
  search(query: { artist: string; album: string; title: string }, limit: number): Promise<FoundRelease[]>;
  release(id: string): Promise<Release | null>;
  hear(fingerprint: string): Promise<HeardRecording[]>;
  /** A JPEG; null when there is none. */
  picture(id: string): Promise<Uint8Array | null>;
}

interface Options {
  signal?: AbortSignal;
  /** Told what is the matter, null when all is well again. */
  trouble?: (words: string | null) => void;
  /** Shortest time between two questions. */
  gapMs?: number;
  tries?: number;
  /** For tests: waits. */
  wait?: (ms: number) => Promise<void>;
}

const GAP_MS = 100,
  MAX_GAP_MS = 2000,
  TIMEOUT_MS = 15_000,
  SLOW_MS = 800,
  TRIES = 7;
/** Answers are asked for again after a week, "nothing found" after an hour. */
const KEPT_HOURS = { something: 24 * 7, nothing: 1 };

/** A client for one piece of work. @throws RangeError for an address that is not on this machine */
export function openCatalogue(
  database: Database,
  address: string,
  { signal, trouble = () => undefined, gapMs = GAP_MS, tries = TRIES, wait = (ms) => pause(ms, signal) }: Options = {},
): Catalogue {
  if (!['127.0.0.1', 'localhost', '[::1]'].includes(new URL(address).hostname))
    throw new RangeError('The catalogue has to be on this machine');
  let gap = gapMs,
    last = 0,
    well = true;
  const say = (words: string | null): void => {
    if (words !== null || !well) trouble(words);
    well = words === null;
  };

  async function ask(path: string, init?: RequestInit): Promise<Response> {
    for (let attempt = 1; ; attempt++) {
      signal?.throwIfAborted();
      await wait(Math.max(0, last + gap - Date.now()));
      last = Date.now();
      let delay = Math.min(8000, 400 * 2 ** (attempt - 1)),
        words = 'The catalogue does not answer';
      try {
        const response = await fetch(new URL(path, address), {
          ...init,
          signal: AbortSignal.any([AbortSignal.timeout(TIMEOUT_MS), ...(signal ? [signal] : [])]),
        });
        if (response.status === 429) {
          gap = Math.min(MAX_GAP_MS, gap * 2);
          words = 'The catalogue is asked too often; waiting';
        } else if (response.status >= 500) words = 'The catalogue is down; waiting';
        else {
          gap = Math.max(gapMs, gap * 0.9);
          say(Date.now() - last > SLOW_MS ? 'The catalogue is slow just now' : null);
          return response;
        }
        await response.body?.cancel();
        delay = Math.max(delay, (Number(response.headers.get('retry-after')) || 0) * 1000);
      } catch (error) {
        if (signal?.aborted) throw error;
      }
      if (attempt >= tries) throw new CatalogueDown(words.replace('; waiting', ''));
      say(`${words} ${Math.max(1, Math.round(delay / 1000))} s`);
      await wait(delay);
    }
  }

  /** JSON from the cache, or asked for; null when there is no such thing. */
  async function json<T>(path: string, isSomething: (answer: T) => boolean, init?: RequestInit): Promise<T | null> {
    // A fingerprint is longer than an index takes: what is asked about it goes by its hash.
    const question = init?.body ? `${path} ${createHash('sha256').update(String(init.body)).digest('hex')}` : path;
    const [known] = await database.rows<{ answer: T | null }>(
      `SELECT answer FROM catalogue_cache WHERE question = $1 AND asked_at > now() - make_interval(hours => CASE
        WHEN nothing THEN ${KEPT_HOURS.nothing} ELSE ${KEPT_HOURS.something} END)`,
      [question],
    );
    if (known) return known.answer;
    const response = await ask(path, init);
    const answer = response.ok ? ((await response.json()) as T) : null;
    await database.run(
      `INSERT INTO catalogue_cache (question, answer, nothing) VALUES ($1, $2::jsonb, $3) ON CONFLICT (question)
        DO UPDATE SET answer = excluded.answer, nothing = excluded.nothing, asked_at = now()`,
      [question, JSON.stringify(answer), answer === null || !isSomething(answer)],
    );
    return answer;
  }

  return {
    search: async (query, limit) =>
      (
        await json<{ releases: FoundRelease[] }>(
          `/v1/releases?${new URLSearchParams({ ...query, limit: String(limit) }).toString()}`,
          (a) => a.releases.length > 0,
        )
      )?.releases ?? [],
    release: (id) => json<Release>(`/v1/releases/${encodeURIComponent(id)}`, () => true),
    hear: async (fingerprint) =>
      (
        await json<{ heard: HeardRecording[] }>('/v1/fingerprints', (a) => a.heard.length > 0, {
          method: 'POST',
          headers: { 'Content-Type': 'application/json' },
          body: JSON.stringify({ fingerprint }),
        })
      )?.heard ?? [],
    async picture(id) {
      const response = await ask(`/v1/pictures/${encodeURIComponent(id)}`);
      return response.ok ? new Uint8Array(await response.arrayBuffer()) : null;
    },
  };
}

function pause(ms: number, signal?: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    if (ms <= 0) {
      resolve();
      return;
    }
    const end = (): void => {
      clearTimeout(timer);
      reject(signal!.reason as Error);
    };
    const timer = setTimeout(() => {
      signal?.removeEventListener('abort', end);
      resolve();
    }, ms);
    signal?.addEventListener('abort', end, { once: true });
  });
}

/** Where the catalogue is, for all processes on the database; null when there is none. */
export async function catalogueAddress(database: Database): Promise<string | null> {
  const [row] = await database.rows<{ value: string | null }>(
    "SELECT value #>> '{}' AS value FROM settings WHERE name = 'catalogue'",
  );
  return row?.value ?? null;
}
export const setCatalogueAddress = (database: Database, address: string | null): Promise<void> =>
  database.run(
    `INSERT INTO settings (name, value) VALUES ('catalogue', $1::jsonb) ON CONFLICT (name) DO UPDATE
      SET value = excluded.value`,
    [JSON.stringify(address)],
  );
