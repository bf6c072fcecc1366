/**
 * Asking the catalogue, politely: one question at a time, no quicker than it likes, waiting when it is down, and never
 * the same question twice.
 */
import { createHash } from 'node:crypto';
import type { Release } from '@early-set/core/catalogue/releases';
import { patiently, type Patience } from '../base/patiently.ts';
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

export interface Catalogue {
  search(query: { artist: string; album: string; title: string }, limit: number): Promise<FoundRelease[]>;
  release(id: string): Promise<Release | null>;
  hear(fingerprint: string): Promise<HeardRecording[]>;
  /** A JPEG; null when there is none. */
  picture(id: string): Promise<Uint8Array | null>;
}

/** Answers are asked for again after a week, "nothing found" after an hour. */
const KEPT_HOURS = { something: 24 * 7, nothing: 1 };

/** A client for one piece of work. @throws RangeError for an address that is not on this machine */
export function openCatalogue(database: Database, address: string, options: Patience = {}): Catalogue {
  const ask = patiently('The catalogue', address, options);

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
