/** The lists of the demo: what somebody on the island has put together, so that Arrange shows a set and not nothing. */
import { createHash, randomUUID } from 'node:crypto';
import pg from 'pg';
import { DEFAULT_MIRROR, topRule, type MirrorSettings } from '@early-set/core/arrange/mirror';
import { writeRule, type Rule } from '@early-set/core/conditions/rule';
import { PLAN } from './scenario/plan.ts';
import { pick, seeded } from './synth/random.ts';

interface DemoList {
  kind: 'crate' | 'playlist';
  name: string;
  /** Name of the crate that it lies in. */
  inside?: string;
  /** Titles of tracks; a version says which of several. */
  titles?: readonly string[];
  startsAt?: string;
  shape?: string;
  rule?: Rule;
  /** One of the palette's colours. */
  colour?: string;
  /** The folder of the demo's music that it mirrors. */
  mirror?: string;
  /** Name of the crate that is its reserve. */
  reserve?: string;
}

const HOUSE = ['House', 'Deep House', 'Tech House', 'Nu Disco'];

const LISTS: readonly DemoList[] = [
  { kind: 'crate', name: 'Boathouse', colour: 'tide' },
  {
    kind: 'crate',
    name: 'Openers',
    inside: 'Boathouse',
    titles: ['Slack Water', 'Long Way to Skerry', 'Night Tide', 'Signal Box', 'Swell Tally', 'Peat Smoke', 'Rope Walk'],
  },
  {
    kind: 'crate',
    name: 'Late',
    inside: 'Boathouse',
    titles: ['Sounding Line', 'Echo Sounder', 'Ballast', 'Cable Bay', 'Bladderwrack Cuts', 'Dry Dock'],
  },
  { kind: 'crate', name: 'Station', colour: 'sodium' },
  { kind: 'crate', name: 'Beds', inside: 'Station', titles: ['Bed, Morning', 'Bed, Tide Times'] },
  {
    kind: 'crate',
    name: 'House, 118 to 126',
    rule: {
      where: {
        all: [
          { field: 'genre', test: 'one of', values: HOUSE },
          { field: 'bpm', test: 'between', low: 118, high: 126 },
        ],
      },
    },
  },
  {
    kind: 'crate',
    name: 'Quiet hours',
    rule: {
      where: {
        all: [
          { field: 'energy', test: 'between', high: 45 },
          { not: { field: 'genre', test: 'one of', values: ['Station'] } },
        ],
      },
    },
  },
  {
    kind: 'crate',
    name: 'House in no set yet',
    rule: {
      where: {
        all: [
          { field: 'genre', test: 'one of', values: HOUSE },
          { not: { inLists: [idOf('Slipway, first hour'), idOf('Openers')] } },
        ],
      },
    },
  },
  {
    kind: 'crate',
    name: 'Newest ten',
    rule: { where: { all: [] }, limit: { count: 10, by: 'year', descending: true } },
  },
  { kind: 'crate', name: 'Crates on the drive', mirror: 'Crates' },
  {
    kind: 'playlist',
    name: 'Skerry at seven',
    startsAt: '07:00',
    shape: 'two waves',
    titles: [
      'Low Cloud',
      'Letter from the Lighthouse',
      'Slow Lamps on the Slip',
      'Waltz for the Slip',
      'Sunday Chandlery',
      'Coal Boat',
      'Lee Side of the Pier',
      'Tar Barrel',
      'Silver Rail',
      'Mirror on the Quay',
      'Winter Coat',
      'Three Hulls',
    ],
  },
  {
    kind: 'playlist',
    name: 'Slipway, first hour',
    startsAt: '22:00',
    shape: 'rising',
    reserve: 'Late',
    titles: [
      'Slack Water',
      'Long Way to Skerry',
      'Night Tide',
      'Signal Box',
      'Lamp Room',
      'Eel Grass',
      'Pilot Boat',
      'Oilskin Lamps',
      'Tin Shed Rain',
      'Parallel Rule',
      'Ferry Clerk',
      'Groyne Nine',
      'Beacon Pan',
      'Cable Bay',
    ],
  },
];

/** Always the same for the same name, so that a demo that is started again has each list once. */
export function idOf(name: string): string {
  const hex = createHash('sha256').update(`early-set demo ${name}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

const pathOf = (title: string): string => PLAN.find((t) => t.title === title)!.path;

/**
 * Makes the lists, and gives the dates that have none theirs. Lists that have been made before, removed ones too, stay
 * as they are.
 * @returns false while the library does not hold all of the demo's music yet
 */
export async function makeDemoLists(databaseUrl: string, musicFolder: string): Promise<boolean> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { rows } = await client.query<{ id: number; path: string; rootId: number }>(
      `SELECT t.id, t.path, t.root_id AS "rootId" FROM tracks t JOIN roots r ON r.id = t.root_id WHERE r.path = $1`,
      [musicFolder],
    );
    const ids = new Map(rows.map((r) => [r.path, r.id]));
    const known = await client.query<{ id: string }>('SELECT id FROM lists');
    const there = new Set(known.rows.map((r) => r.id));
    const missing = LISTS.filter((l) => !there.has(idOf(l.name)));
    if (missing.some((l) => l.titles?.some((title) => !ids.has(pathOf(title))))) return false;
    await client.query('BEGIN');
    for (const list of missing) await makeList(client, list, LISTS.indexOf(list), ids);
    for (const { name, mirror } of missing)
      if (mirror && rows[0]) await makeMirror(client, name, mirror, rows[0].rootId);
    for (const [kind, name] of [
      ['gig', 'Slipway, first hour'],
      ['show', 'Skerry at seven'],
    ] as const)
      if (missing.some((l) => l.name === name))
        await client.query("UPDATE dates SET list_ids = $2::uuid[] WHERE kind = $1 AND list_ids = '{}'", [
          kind,
          [idOf(name)],
        ]);
    for (const event of ['lists', 'dates'])
      await client.query("SELECT pg_notify('early_set', $1)", [
        JSON.stringify(event === 'lists' ? { kind: event, listIds: [] } : { kind: event }),
      ]);
    await client.query('COMMIT');
    return true;
  } finally {
    await client.end();
  }
}

async function makeList(
  client: pg.Client,
  { kind, name, inside, titles = [], startsAt, shape, rule, colour, reserve }: DemoList,
  position: number,
  ids: ReadonlyMap<string, number>,
): Promise<void> {
  const id = idOf(name);
  await client.query(
    `INSERT INTO lists (id, kind, name, parent_id, position, removed, starts_at, shape, rule, colour, reserve_id, updated_at)
      VALUES ($1, $2, $3, $4, $5, false, $6, $7, $8, $9, $10, now() + $5 * interval '1 millisecond')`,
    [
      id,
      kind,
      name,
      inside ? idOf(inside) : null,
      position,
      startsAt ?? null,
      shape ?? null,
      rule ? writeRule(rule) : null,
      colour ?? null,
      reserve ? idOf(reserve) : null,
    ],
  );
  await client.query(
    `INSERT INTO list_entries (id, list_id, kind, track_id, data, position)
      SELECT gen_random_uuid(), $1, 'track', v.id, '{}', v.n - 1 FROM unnest($2::int[]) WITH ORDINALITY AS v(id, n)`,
    [id, titles.map((title) => ids.get(pathOf(title))!)],
  );
}

/** Makes a crate the mirror of a folder, and crates in it for the folders below. */
async function makeMirror(client: pg.Client, name: string, path: string, rootId: number): Promise<void> {
  const settings: MirrorSettings = { ...DEFAULT_MIRROR, rootId, path };
  const id = idOf(name);
  await client.query('UPDATE lists SET rule = $2, mirror = $3, mirror_of = id WHERE id = $1', [
    id,
    topRule(settings),
    JSON.stringify(settings),
  ]);
  const folders = [...new Set(PLAN.map((t) => t.path.split('/').slice(0, -1).join('/')))]
    .filter((folder) => folder.startsWith(`${path}/`))
    .sort();
  for (const [position, folder] of folders.entries())
    await client.query(
      `INSERT INTO lists (id, kind, name, parent_id, position, removed, rule, mirror_of, updated_at)
        VALUES ($1, 'crate', $2, $3, $4, false, $5, $3, now())`,
      [
        idOf(`${name} ${folder}`),
        folder.split('/').at(-1),
        id,
        position + 1,
        writeRule({ where: { inFolder: { rootId, path: folder }, below: false } }),
      ],
    );
}

/** Many lists of made-up tracks, for trying the screens at size. */
export async function seedLists(databaseUrl: string, count: number): Promise<number> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { rows } = await client.query<{ n: number }>('SELECT count(*)::int AS n FROM lists');
    const made = rows[0]!.n;
    const random = seeded(2200 + made);
    const crates: string[] = [];
    for (let i = made; i < count; i++) {
      const id = randomUUID();
      const kind = i % 4 === 0 ? 'crate' : 'playlist';
      const parent = crates.length > 3 && random() < 0.6 ? pick(random, crates) : null;
      const low = 90 + Math.floor(random() * 60);
      const rule: Rule = { where: { field: 'bpm', test: 'between', low, high: low + 2 } };
      const fills = i % 20 === 0;
      if (kind === 'crate' && !fills) crates.push(id);
      await client.query(
        `INSERT INTO lists (id, kind, name, parent_id, position, removed, starts_at, shape, rule, updated_at)
          VALUES ($1, $2, $3, $4, $5, false, $6, $7, $8, now())`,
        [
          id,
          kind,
          fills ? `${low} to ${low + 2} BPM` : `${kind === 'crate' ? 'Crate' : 'Night'} ${i + 1}`,
          parent,
          i,
          kind === 'playlist' ? '22:00' : null,
          kind === 'playlist' && i % 3 === 0 ? 'rising' : null,
          fills ? writeRule(rule) : null,
        ],
      );
      if (!fills)
        await client.query(
          `INSERT INTO list_entries (id, list_id, kind, track_id, data, position)
            SELECT gen_random_uuid(), $1, 'track', t.id, '{}', row_number() OVER () - 1
              FROM (SELECT id FROM tracks WHERE id > $2 ORDER BY id LIMIT $3) t`,
          [id, Math.floor(random() * 90_000), 10 + Math.floor(random() * 60)],
        );
    }
    return Math.max(0, count - made);
  } finally {
    await client.end();
  }
}
