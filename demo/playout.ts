/** The playout system of the island's station: the hours that are made go there, and a day of it is to be read. */
import { format, subDays } from 'date-fns';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type pg from 'pg';
import { writeCsv } from '@early-set/core/exchange/csvTable';
import { TURNSTONE } from '@early-set/core/playout/system';

const COLUMNS = ['time', 'title', 'artist', 'seconds', 'playout ID'] as const;
/** So many tracks were on air yesterday. */
const PLAYED = 7;

/** Adds it once; its folder is made where there is none. */
export async function makePlayout(client: pg.Client, musicFolder: string, hourIds: readonly string[]): Promise<void> {
  const folder = join(dirname(musicFolder), 'playout', TURNSTONE.name);
  for (const name of [TURNSTONE.items, TURNSTONE.logs, TURNSTONE.played])
    mkdirSync(join(folder, name), { recursive: true });
  await writeYesterday(client, musicFolder, join(folder, TURNSTONE.played));
  await client.query(
    `INSERT INTO sticks (player, name, folder, settings) VALUES ('turnstone', $1, $2, jsonb_build_object('lists', $3::jsonb))
     ON CONFLICT (folder) DO NOTHING`,
    [TURNSTONE.name, folder, JSON.stringify(hourIds)],
  );
  await client.query("SELECT pg_notify('early_set', $1)", [JSON.stringify({ kind: 'destinations' })]);
}

async function writeYesterday(client: pg.Client, musicFolder: string, folder: string): Promise<void> {
  const day = format(subDays(new Date(), 1), 'yyyy-MM-dd');
  const file = join(folder, `${day}.csv`);
  if (existsSync(file)) return;
  const { rows } = await client.query<{ title: string; artist: string; seconds: number; id: number }>(
    `SELECT t.title, array_to_string(t.artist, '; ') AS artist, t.duration_seconds AS seconds, t.playout_id AS id
      FROM tracks t JOIN roots r ON r.id = t.root_id WHERE r.path = $1 AND t.title IS NOT NULL AND t.artist IS NOT NULL
      ORDER BY md5(t.path) LIMIT $2`,
    [musicFolder, PLAYED],
  );
  let at = new Date(`${day}T19:00:00`).getTime();
  const lines = [{ title: 'News from the harbour office', artist: '', seconds: 180, id: 0 }, ...rows].map((row) => {
    const line = {
      time: format(at, "yyyy-MM-dd'T'HH:mm:ss"),
      ...{ title: row.title, artist: row.artist, seconds: row.seconds.toFixed(1) },
      'playout ID': row.id === 0 ? '' : String(row.id).padStart(TURNSTONE.idDigits, '0'),
    };
    at += row.seconds * 1000;
    return line;
  });
  writeFileSync(file, writeCsv(COLUMNS, lines));
}
