/**
 * The programs of the demo: what two people who play on the island have in them, partly older and partly newer than the
 * library; and a stick.
 */
import { existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import pg from 'pg';
import { NO_CHANGES, type Format, type OtherList, type OtherTrack } from '@early-set/core/exchange/collection';
import { programOf } from '@early-set/core/exchange/programs';
import type { FieldValue } from '@early-set/core/fields/values';
import { storable } from '@early-set/core/sync/store';
import { LAPTOP, LAPTOP_FOLDER } from './scenario/laptop.ts';

interface Row {
  /** Whole. */
  path: string;
  values: Record<string, FieldValue>;
}

interface Program {
  kind: string;
  /** Folder of its data below its own. */
  data: string;
  /** What it has of a track of the library; null: it does not have it. */
  holds: (row: Row, index: number) => Record<string, FieldValue> | null;
  /** Its lists: name, what it lies in, which of its tracks. */
  lists: readonly (readonly [name: string, place: string[], takes: (index: number, all: number) => boolean])[];
}

const every = (n: number, index: number): boolean => index % n === n - 1;
/** Of every so many tracks one, at this value; nothing said of the others. */
const some = (n: number, index: number, value: FieldValue): FieldValue => (every(n, index) ? value : null);

const PROGRAMS: readonly Program[] = [
  {
    kind: 'plover',
    data: 'collection',
    holds: ({ values: row }, i) =>
      every(7, i)
        ? null
        : {
            ...row,
            title: every(9, i) ? `[promo] ${String(row.title ?? '')}`.trim() : row.title!,
            genre: every(5, i) ? null : row.genre!,
            rating: some(4, i, 1 + (i % 5)),
            timesUsed: some(3, i, 1 + (i % 7)),
            lastUsed: some(3, i, '2026-11-21T22:00:00Z'),
            comment: some(6, i, i % 2 === 0 ? 'crowd loved it' : 'works after ten'),
            cues: some(8, i, JSON.stringify([{ at: 0.5 + (i % 4), name: 'in', colour: 'tide' }])),
          },
    lists: [
      ['After ten', ['Gigs', '2026'], (i) => every(6, i)],
      ['Opening', ['Gigs'], (i) => every(11, i)],
      // What is on the laptop comes last.
      ['Bought in autumn', [], (i, all) => i >= all - LAPTOP.length],
      ['Sunrise', [], (i) => every(13, i)],
    ],
  },
  {
    kind: 'dunlin',
    data: 'data',
    holds: ({ values: row }, i) =>
      every(3, i)
        ? null
        : {
            ...row,
            rating: some(5, i, 3),
            timesUsed: some(4, i, 2),
            year: every(4, i) ? null : row.year!,
            comment: null,
          },
    lists: [
      ['Warm', [], (i) => every(5, i)],
      ['Harbour', ['Warm'], (i) => every(9, i)],
    ],
  },
];

const FIELDS = ['title', 'version', 'artist', 'album', 'genre', 'year', 'label'] as const;

/** Makes their data where there are none, and adds them as destinations. Waits for all of the demo's music. */
export async function makeDemoPrograms(databaseUrl: string, musicFolder: string): Promise<boolean> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { rows: found } = await client.query<{ path: string } & Record<string, FieldValue>>(
      `SELECT t.path, t.duration_seconds AS "durationSeconds", ${FIELDS.map((f) => `t.${f}`).join(', ')}
        FROM tracks t JOIN roots r ON r.id = t.root_id WHERE r.path = $1 AND t.file_state = 'here' ORDER BY t.path`,
      [musicFolder],
    );
    const rows = found.map(({ path, ...values }): Row => ({ path: `${musicFolder}/${path}`, values }));
    const own = LAPTOP.map(({ path, seconds, values }): Row => ({
      path: join(dirname(musicFolder), LAPTOP_FOLDER, path),
      values: { ...values, durationSeconds: seconds },
    }));
    for (const program of PROGRAMS) {
      const folder = join(dirname(musicFolder), 'programs', program.kind);
      if (!existsSync(join(folder, program.data))) fill(program, folder, rows, program.kind === 'plover' ? own : []);
      const { name } = programOf(program.kind).describe;
      await client.query(
        'INSERT INTO destinations (kind, name, folder) VALUES ($1, $2, $3) ON CONFLICT (folder) DO NOTHING',
        [program.kind, name, folder],
      );
    }
    await makeStick(client, musicFolder);
    await client.query("SELECT pg_notify('early_set', $1)", [JSON.stringify({ kind: 'destinations' })]);
    return true;
  } finally {
    await client.end();
  }
}

/** A stick for the car, with what others keep on it; what is played next Friday goes there. */
async function makeStick(client: pg.Client, musicFolder: string): Promise<void> {
  const folder = join(dirname(musicFolder), 'sticks', 'Car stick');
  mkdirSync(join(folder, 'Papers'), { recursive: true });
  const note = join(folder, 'Papers', 'ferry times.txt');
  if (!existsSync(note)) writeFileSync(note, 'Last ferry 23:40; the boat taxi runs until 3.\n');
  await client.query(
    `INSERT INTO sticks (player, name, folder, settings) SELECT 'oystercatcher', 'Car stick', $1, jsonb_build_object(
      'dates', COALESCE((SELECT jsonb_agg(id) FROM dates WHERE kind = 'gig'), '[]'::jsonb),
      'lists', COALESCE((SELECT jsonb_agg(id) FROM lists WHERE name = 'Openers' AND NOT removed), '[]'::jsonb))
     ON CONFLICT (folder) DO NOTHING`,
    [folder],
  );
}

/** @param own what only it has */
function fill({ kind, data, holds, lists }: Program, folder: string, rows: readonly Row[], own: readonly Row[]): void {
  const format = programOf(kind),
    whole = join(folder, data),
    growing = join(folder, '.growing');
  const taken = new Set<string>();
  const tracks = [...rows, ...own].flatMap((row, i): { track: OtherTrack; index: number }[] => {
    const values = i < rows.length ? holds(row, i) : row.values;
    if (!values) return [];
    const { path } = row;
    const id = format.newTrackId(path, taken, whole);
    taken.add(id);
    const stored = storable(values, format.describe).values;
    const { durationSeconds = null } = row.values;
    return [{ track: { id, path, times: {}, values: { ...stored, durationSeconds } }, index: i }];
  });
  const listIds = new Set<string>();
  const newLists = lists.map(([name, place, takes]): OtherList => {
    const id = format.newListId(listIds);
    listIds.add(id);
    return {
      id,
      name,
      place,
      trackIds: tracks.filter((t) => takes(t.index, rows.length + own.length)).map((t) => t.track.id),
    };
  });
  rmSync(growing, { recursive: true, force: true });
  for (const [name, text] of written(
    format,
    tracks.map((t) => t.track),
    newLists,
    whole,
  )) {
    mkdirSync(dirname(join(growing, name)), { recursive: true });
    writeFileSync(join(growing, name), text);
  }
  renameSync(growing, whole);
}

/** What stood there on a day in October. */
const AT = '2026-10-17T18:40:00Z';

function written(
  format: Format,
  newTracks: readonly OtherTrack[],
  newLists: readonly OtherList[],
  folder: string,
): Map<string, string> {
  const files = format.write(
    new Map(),
    { ...NO_CHANGES, newTracks: [...newTracks], newLists: [...newLists] },
    folder,
    AT,
  );
  return new Map([...files].flatMap(([name, text]) => (text === null ? [] : [[name, text]])));
}
