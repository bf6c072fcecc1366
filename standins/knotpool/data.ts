/** What the pool offers: a folder with two JSON Lines files, the music, and a short piece of each to listen to. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

export interface PoolTrack {
  id: string;
  title: string;
  version: string | null;
  artists: string[];
  label: string | null;
  genre: string | null;
  year: number | null;
  bpm: number | null;
  /** "A minor". */
  key: string | null;
  seconds: number;
  /** Day on which it came, "2026-11-20". */
  added: string;
  /** Its music below `files`, and the piece of it below `previews`. */
  file: string;
  preview: string;
}

export interface PoolList {
  id: string;
  name: string;
  tracks: string[];
}

export interface PoolData {
  tracks: PoolTrack[];
  lists: PoolList[];
}

function lines<T>(path: string): T[] {
  if (!existsSync(path)) return [];
  return readFileSync(path, 'utf8')
    .split('\n')
    .filter((line) => line.trim() !== '')
    .map((line) => JSON.parse(line) as T);
}

/** Reads it anew: the pool grows while it is open. */
export const readPool = (folder: string): PoolData => ({
  tracks: lines<PoolTrack>(join(folder, 'tracks.jsonl')),
  lists: lines<PoolList>(join(folder, 'lists.jsonl')),
});
