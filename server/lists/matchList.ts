/** A list by others, as text: which of its entries are here. */
import { setImmediate } from 'node:timers/promises';
import type { MatchedList } from '@early-set/core/api/types';
import { entryIndex } from '@early-set/core/exchange/entryIndex';
import type { ListedEntry } from '@early-set/core/exchange/listFile';
import { matchEntry } from '@early-set/core/exchange/matchEntries';
import { readList } from '@early-set/core/exchange/readList';
import type { TrackValues } from '@early-set/core/fields/values';
import { nameOf } from '@early-set/core/files/paths';
import { Problem } from '../base/problem.ts';
import type { Database } from '../db/database.ts';

export const MAX_MATCHED = 1000;
/** So many tracks are compared with an entry. */
const LOOKED_AT = 20;
/** After so many entries others get their turn. */
const AT_ONCE = 20;

const several = (n: number): string => n.toLocaleString('en-GB');

/** What an entry is looked up by: its names, and of one without a title the name of its file. */
const lookedFor = ({ title, artist, location }: ListedEntry): string =>
  [artist, title ?? (location === null ? '' : nameOf(location))].filter(Boolean).join(' ');

interface Named {
  id: number;
  /** What is looked at when entries are compared. */
  values: TrackValues;
}

const nameOfTrack = ({ values: { title, artist, version, path } }: Named): string =>
  [
    Array.isArray(artist) ? artist.join('; ') : '',
    `${String(title ?? nameOf(String(path)))}${version ? ` (${String(version)})` : ''}`,
  ]
    .filter(Boolean)
    .join(' - ');

/** Reads a list and finds its entries, until it is called off. @throws Problem when it has too many, or none at all */
export async function matchList(
  database: Database,
  text: string,
  ending: string,
  signal?: AbortSignal,
): Promise<MatchedList> {
  const { name, entries, problems } = readList(text, ending);
  if (entries.length === 0) throw new Problem(400, 'no-entries', 'There is nothing in it that could be a track');
  if (entries.length > MAX_MATCHED)
    throw new Problem(
      413,
      'too-many',
      `The list has ${several(entries.length)} entries; at most ${several(MAX_MATCHED)} can be matched at once`,
    );
  const rows = await database.rows<{ id: number } & TrackValues>(
    `SELECT id, title, artist, version, path, file_name AS "fileName", duration_seconds AS "durationSeconds", bitrate
      FROM tracks ORDER BY id`,
  );
  const tracks = rows.map(({ id, ...values }): Named => ({ id, values }));
  const index = entryIndex(
    tracks.map(({ values: { title, artist, version, fileName } }) =>
      [title, ...(Array.isArray(artist) ? artist : []), version, fileName].filter(Boolean).join(' '),
    ),
  );
  const lines: MatchedList['lines'] = [];
  for (const [at, entry] of entries.entries()) {
    if (at % AT_ONCE === 0) await setImmediate();
    signal?.throwIfAborted();
    const near = index.near(lookedFor(entry), LOOKED_AT).map((i) => tracks[i]!);
    const { candidates, sure } = matchEntry(entry, near);
    lines.push({
      entry,
      sure,
      candidates: candidates.map(({ track, score }) => ({ id: track.id, name: nameOfTrack(track), score })),
    });
  }
  return { name, problems, lines };
}
