/** The pool: what it offers, pieces to listen to, and music by links that expire. */
import { createWriteStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';
import type { Collection, OtherTrack } from '@early-set/core/exchange/collection';
import { parseKey } from '@early-set/core/fields/keys';
import { Problem } from '../base/problem.ts';
import { patiently, ServiceDown, type Ask, type Patience } from '../base/patiently.ts';

interface Offered {
  id: string;
  title: string;
  version: string | null;
  artists: string[];
  label: string | null;
  genre: string | null;
  year: number | null;
  bpm: number | null;
  key: string | null;
  seconds: number;
  added: string;
  bytes: number;
  format: string;
}

export interface Pool {
  collection(): Promise<Collection>;
  preview(id: string): Promise<Response>;
  /** Fetches the music of a track into a file; answers what the pool calls it. @throws Problem */
  download(id: string, to: string): Promise<string>;
}

/** So often a link is asked for anew, or a broken download begun again. */
const TRIES = 5;
const MAX_PAGES = 2000;

/** @param patience for one piece of work */
export function openPool(address: string, patience: Patience = {}): Pool {
  const { signal } = patience;
  const asked = patiently('The pool', address, patience);
  const ask: Ask = (path, init) =>
    asked(path, init).catch((error: unknown) => {
      throw error instanceof ServiceDown ? new Problem(502, 'pool', error.message) : error;
    });
  const json = async <T>(path: string, init?: RequestInit): Promise<T> => {
    const response = await ask(path, init);
    if (!response.ok) throw new Problem(502, 'pool', `The pool does not have it (${response.status})`);
    return (await response.json()) as T;
  };
  return {
    async collection() {
      const { lists } = await json<{ lists: { id: string; name: string; tracks: string[] }[] }>('/v1/lists');
      const tracks: OtherTrack[] = [];
      for (let page = 0; page < MAX_PAGES; page++) {
        const after = tracks.at(-1)?.id;
        const query = after === undefined ? '' : `?after=${encodeURIComponent(after)}`;
        const got = await json<{ tracks: Offered[]; more: boolean }>(`/v1/tracks${query}`);
        tracks.push(...got.tracks.map(trackOf));
        if (!got.more || got.tracks.length === 0) break;
      }
      return {
        tracks,
        lists: lists.map(({ id, name, tracks: trackIds }) => ({ id, name, place: [], trackIds })),
        problems: [],
      };
    },
    preview: (id) => ask(`/v1/previews/${encodeURIComponent(id)}`),
    async download(id, to) {
      for (let attempt = 1; ; attempt++) {
        signal?.throwIfAborted();
        const { link, name } = await json<{ link: string; name: string }>(`/v1/tracks/${encodeURIComponent(id)}/link`, {
          method: 'POST',
        });
        const response = await ask(link);
        if (response.ok && (await received(response, to, signal))) return name;
        await response.body?.cancel().catch(() => undefined);
        await rm(to, { force: true });
        if (attempt < TRIES && (response.ok || response.status === 410)) continue;
        throw new Problem(
          502,
          'pool',
          response.ok ? 'The pool breaks off again and again' : `The pool does not give it (${response.status})`,
        );
      }
    },
  };
}

/** Writes what comes into a file; false where it broke off. */
async function received(response: Response, to: string, signal?: AbortSignal): Promise<boolean> {
  const whole = Number(response.headers.get('content-length'));
  try {
    await pipeline(
      Readable.fromWeb(response.body as ReadableStream),
      createWriteStream(to),
      ...(signal ? [{ signal }] : []),
    );
  } catch (error) {
    signal?.throwIfAborted();
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC') throw error;
    return false;
  }
  return !whole || (await stat(to)).size === whole;
}

const trackOf = ({
  id,
  artists,
  title,
  version,
  label,
  genre,
  year,
  bpm,
  key,
  seconds,
  added,
}: Offered): OtherTrack => ({
  id,
  path: '',
  times: {},
  values: {
    ...{ title, version, label, year, bpm, artist: artists.length ? artists : null, genre: genre ? [genre] : null },
    ...{ key: key ? parseKey(key) : null, durationSeconds: seconds, addedAt: added },
  },
});
