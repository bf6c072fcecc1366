/** Seeds made-up tracks without audio, for trying the screens at size. */
import pg from 'pg';
import { FIELDS } from '@early-set/core/fields/table';
import { signatureOf, ALL_KEYS } from '@early-set/core/fields/keys';
import { SEARCH_LAYOUT, searchText } from '@early-set/core/conditions/condition';
import { sortText } from '@early-set/core/fields/fold';
import type { TrackValues } from '@early-set/core/fields/values';
import { pick, seeded, type Random } from './synth/random.ts';

const FIRST = [
  'Odette',
  'Vesna',
  'Juno',
  'Hal',
  'Ada',
  'Iri',
  'Mabel',
  'Lorne',
  'Tamsin',
  'Corin',
  'Edda',
  'Bram',
  'Isla',
  'Rourke',
  'Wren',
  'Silas',
  'Ottoline',
  'Piers',
  'Marit',
  'Ewan',
];
const LAST = [
  'Kassar',
  'Rook',
  'Tarn',
  'Sorrow',
  'Thole',
  'Vane',
  'Orr',
  'Quill',
  'Marsh',
  'Skerry',
  'Halyard',
  'Brine',
  'Lowe',
  'Fathom',
  'Pell',
  'Harrow',
  'Stave',
  'Cleat',
  'Morrow',
  'Dunn',
];
const WORDS = [
  'Tide',
  'Lantern',
  'Harbour',
  'Slack',
  'Water',
  'Signal',
  'Rope',
  'Salt',
  'Kettle',
  'Copper',
  'Ferry',
  'Night',
  'Morning',
  'Bell',
  'Wall',
  'Line',
  'Kelp',
  'Gull',
  'Anchor',
  'Drift',
  'Chain',
  'Locker',
  'Neap',
  'Spring',
  'Ebb',
  'Flood',
  'Quay',
  'Pilot',
  'Boat',
  'Lamp',
  'Room',
  'Stone',
  'Weather',
  'Glass',
  'Rain',
  'Roof',
  'Shingle',
  'Pier',
  'North',
  'Light',
];
const VERSIONS = ['', '', '', 'Extended', 'Dub', 'Radio Edit', 'Club Mix', 'Instrumental', 'Live', 'Night Mix'];
const GENRES: [string, number, number][] = [
  ['House', 118, 128],
  ['Deep House', 116, 124],
  ['Techno', 126, 142],
  ['Drum & Bass', 166, 178],
  ['Hip-Hop', 78, 100],
  ['Nu Disco', 108, 122],
  ['UK Garage', 128, 136],
  ['Dembow', 88, 104],
  ['Breakbeat', 124, 140],
  ['Ambient', 60, 90],
  ['Soul', 84, 112],
  ['Dub', 68, 90],
  ['Electro', 122, 134],
  ['Folk', 70, 150],
  ['Singer-Songwriter', 62, 120],
];
const FORMATS = ['MP3', 'MP3', 'MP3', 'FLAC', 'M4A', 'WAV', 'AIFF', 'Ogg', 'Opus'];

/** One made-up track. */
export function madeUpTrack(index: number, random: Random): TrackValues {
  const [genre, slow, fast] = pick(random, GENRES);
  const measured = random() < 0.985;
  const artist =
    random() < 0.02
      ? null
      : [
          `${pick(random, FIRST)} ${pick(random, LAST)}`,
          ...(random() < 0.08 ? [`${pick(random, FIRST)} ${pick(random, LAST)}`] : []),
        ];
  const title = `${pick(random, WORDS)} ${pick(random, WORDS)}${random() < 0.3 ? ` ${pick(random, WORDS)}` : ''}`;
  const bpm = genre === 'Ambient' ? null : Math.round((slow + random() * (fast - slow)) * 100) / 100;
  const energy = Math.round(Math.min(100, Math.max(2, (slow - 55) * 0.7 + random() * 45)));
  const format = pick(random, FORMATS);
  const name = `${String(index).padStart(6, '0')} ${title}`;
  return {
    fileName: name,
    title,
    artist,
    version: pick(random, VERSIONS) || null,
    genre: random() < 0.03 ? null : [genre],
    album: `${pick(random, WORDS)} ${pick(random, WORDS)}`,
    year: random() < 0.03 ? null : 1972 + Math.floor(Math.sqrt(random()) * 53),
    label: `${pick(random, WORDS)} Recordings`,
    bpm: measured ? bpm : null,
    key: measured ? pick(random, ALL_KEYS) : null,
    energy: measured ? energy : null,
    lufs: measured ? Math.round((-20 + random() * 13) * 10) / 10 : null,
    truePeakDbtp: measured ? Math.round((-2 + random() * 2.5) * 10) / 10 : null,
    tempoConfidence: measured && bpm ? Math.round(random() ** 0.3 * 100) / 100 : null,
    keyConfidence: measured ? Math.round(random() ** 0.4 * 100) / 100 : null,
    tempoSteady: measured && bpm ? random() < 0.93 : null,
    rating: random() < 0.3 ? 1 + Math.floor(random() * 5) : null,
    durationSeconds: Math.round((120 + random() ** 2 * 420) * 100) / 100,
    format,
    codec: format,
    bitrate: format === 'MP3' ? 320 : 900,
    sampleRate: 44100,
    channels: 2,
    root: 'Made-up tracks',
    kind: 'track',
    path: `made up/${String(Math.floor(index / 500)).padStart(4, '0')}/${name}.${format.toLowerCase()}`,
    fileState: random() < 0.002 ? 'missing' : 'here',
    analysisState: measured ? 'done' : 'none',
    fileSize: 8_000_000 + Math.floor(random() * 30_000_000),
  };
}

// The database makes names of files and folders from their paths.
const WORKED_OUT = ['addedAt', 'fileName', 'folder', 'playoutId'];
const STORED = FIELDS.filter((f) => !WORKED_OUT.includes(f.id));
const TYPES: Record<string, string> = {
  texts: 'text[]',
  number: 'float8',
  integer: 'bigint',
  seconds: 'float8',
  flag: 'boolean',
  date: 'timestamptz',
};

/** Adds made-up tracks up to `count` under a root of their own; returns how many there are. */
export async function seedMany(databaseUrl: string, count: number): Promise<number> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const {
      rows: [root],
    } = await client.query<{ id: number }>(
      `INSERT INTO roots (path, label, measure) VALUES ('/made-up', 'Made-up tracks', false) ON CONFLICT (path)
        DO UPDATE SET label = excluded.label RETURNING id`,
    );
    const {
      rows: [there],
    } = await client.query<{ n: string }>('SELECT count(*) AS n FROM tracks WHERE root_id = $1', [root!.id]);
    const random = seeded(98_100 + Number(there!.n));
    const columns = STORED.flatMap((f) => [
      { name: f.column, type: TYPES[f.type] ?? 'text' },
      ...(f.sortColumn !== f.column ? [{ name: f.sortColumn, type: 'text' }] : []),
    ]);
    for (let from = Number(there!.n); from < count; from += 2000) {
      const rows = Array.from({ length: Math.min(2000, count - from) }, (_, i) => {
        const track = madeUpTrack(from + i, random);
        const out: Record<string, unknown> = {
          search_text: searchText(track),
          key_signature: typeof track.key === 'string' ? signatureOf(track.key) : null,
        };
        for (const f of STORED) {
          const value = track[f.id] ?? null;
          out[f.column] = value;
          if (f.sortColumn !== f.column)
            out[f.sortColumn] =
              value === null ? null : sortText(Array.isArray(value) ? value.join('; ') : String(value));
        }
        return out;
      });
      await client.query(
        `INSERT INTO tracks (root_id, file_modified_ms, analysis_engine, search_layout, search_text, key_signature,
          ${columns.map((c) => c.name).join(', ')})
         SELECT $1, 0, 1, $3, v.search_text, v.key_signature, ${columns.map((c) => `v.${c.name}`).join(', ')}
         FROM jsonb_to_recordset($2::jsonb) AS v(search_text text, key_signature smallint,
           ${columns.map((c) => `${c.name} ${c.type}`).join(', ')})`,
        [root!.id, JSON.stringify(rows), SEARCH_LAYOUT],
      );
    }
    await client.query(
      `INSERT INTO track_files (track_id, root_id, path, state, size, modified_ms, container, codec, bitrate,
        sample_rate, channels, duration_seconds)
       SELECT id, root_id, path, file_state, file_size, 0, format, codec, bitrate, sample_rate, channels,
         duration_seconds FROM tracks WHERE root_id = $1 ON CONFLICT DO NOTHING`,
      [root!.id],
    );
    await client.query('ANALYZE tracks');
    await client.query('ANALYZE track_files');
    const {
      rows: [total],
    } = await client.query<{ n: string }>('SELECT count(*) AS n FROM tracks WHERE root_id = $1', [root!.id]);
    return Number(total!.n);
  } finally {
    await client.end();
  }
}
