/**
 * What editing by hand asks of the library: known values, what chosen tracks share, a field copied to another,
 * pictures.
 */
import { readdir, stat } from 'node:fs/promises';
import { dirname, extname, join } from 'node:path';
import type { Applied, Selection, SharedValue } from '@early-set/core/api/types';
import { setPicture as pictureItem } from '@early-set/core/changes/kinds/setPicture';
import { sortText } from '@early-set/core/fields/fold';
import { fieldOf, FIELDS } from '@early-set/core/fields/table';
import { checkValue, isEmpty, type FieldValue } from '@early-set/core/fields/values';
import type { ChangeContext } from '../changes/context.ts';
import { editInTurn } from '../changes/edits.ts';
import { draftOf } from '../clean/clean.ts';
import type { Database } from '../db/database.ts';
import { reasonOf } from '../files/reasons.ts';
import { readRegular } from '../files/regular.ts';
import { MAX_PICTURE_BYTES, readThrough, workOnPicture } from '../media/raster.ts';
import { resolveInRoot } from '../media/roots.ts';
import { Problem } from '../base/problem.ts';
import { FILE_NAME } from '../library/fileNameField.ts';
import { selectedIds } from '../library/sheet.ts';
import { fileOf } from '../library/tracks.ts';

/** Values of a field that the library has, those that begin so first, then the commonest. */
export async function knownValues(
  database: Database,
  fieldId: string,
  text: string,
  limit: number,
): Promise<[string, number][]> {
  const field = fieldOf(fieldId);
  if (field.type !== 'text' && field.type !== 'texts') return [];
  const value = field.type === 'texts' ? `unnest(${field.column})` : field.column;
  const rows = await database.rows<{ value: string; n: number }>(
    `SELECT value, n FROM (SELECT ${value} AS value, count(*) AS n FROM tracks WHERE ${field.column} IS NOT NULL
      GROUP BY 1) v WHERE value <> '' AND length(value) <= 200 AND value ILIKE $1
     ORDER BY (value ILIKE $2) DESC, n DESC, value LIMIT ${limit}`,
    [`%${like(text)}%`, `${like(text)}%`],
  );
  const wanted = sortText(text);
  // ILIKE knows no accents; what only differs by them is still the nearest.
  return rows
    .map((r): [string, number] => [r.value, r.n])
    .sort((a, b) => Number(sortText(b[0]) === wanted) - Number(sortText(a[0]) === wanted));
}
const like = (text: string): string => text.replace(/[\\%_]/g, '\\$&');

/** Fields that many tracks are edited in at once. */
const SHARED = FIELDS.filter((f) => f.editable && f.type !== 'marks' && f.id !== FILE_NAME);

/** Per field the value that all chosen tracks have, or how many different ones there are. */
export async function sharedValues(
  database: Database,
  selection: Selection,
): Promise<{ tracks: number; fields: Record<string, SharedValue> }> {
  const ids = await selectedIds(database, selection);
  const [row] = await database.rows<Record<string, string | number | null>>(
    `SELECT ${SHARED.map(({ column: c }, i) => `count(DISTINCT t.${c}) AS n${i}, count(t.${c}) AS f${i}, min(to_jsonb(t.${c})::text) AS v${i}`).join(', ')} FROM tracks t WHERE t.id = ANY($1::int[])`,
    [ids],
  );
  return {
    tracks: ids.length,
    fields: Object.fromEntries(
      SHARED.map((field, i): [string, SharedValue] => {
        const different = Number(row?.[`n${i}`] ?? 0),
          filled = Number(row?.[`f${i}`] ?? 0),
          text = row?.[`v${i}`];
        const same = different <= 1 && (filled === 0 || filled === ids.length);
        return [
          field.id,
          {
            same,
            value: same && typeof text === 'string' ? (JSON.parse(text) as FieldValue) : null,
            different: different + (filled > 0 && filled < ids.length ? 1 : 0),
          },
        ];
      }),
    ),
  };
}

/** Copies one field into another on each of the chosen tracks. @throws Problem when nothing would change */
export const copyField = (
  context: ChangeContext,
  selection: Selection,
  from: string,
  to: string,
  over: boolean,
): Promise<Applied> =>
  editInTurn(context, async () => {
    const { database } = context;
    const rows = await database.rows<{ id: number; from: FieldValue; to: FieldValue }>(
      `SELECT id, ${fieldOf(from).column} AS "from", ${fieldOf(to).column} AS "to" FROM tracks
        WHERE id = ANY($1::int[]) ORDER BY id`,
      [await selectedIds(database, selection)],
    );
    const edits = rows.flatMap((r) => {
      if (isEmpty(r.from) || (!over && !isEmpty(r.to))) return [];
      const checked = checkValue(to, asTyped(r.from, to));
      return checked.ok ? [{ trackId: r.id, fields: { [to]: { before: r.to, after: checked.value } } }] : [];
    });
    const items = await draftOf(database, edits);
    const [target, source] = [fieldOf(to).label, fieldOf(from).label];
    if (items.length === 0)
      throw new Problem(409, 'nothing-to-do', `${target} says that already, or ${source} is empty`);
    return { title: `${source} copied to ${target} on ${tracksInWords(items.length)}`, items };
  });

/** A value as it would be typed into another field. */
function asTyped(value: FieldValue, into: string): FieldValue {
  if (Array.isArray(value)) return fieldOf(into).type === 'texts' ? value : value.join(', ');
  return typeof value === 'number' ? String(value) : value;
}

export const tracksInWords = (n: number): string => (n === 1 ? 'one track' : `${n.toLocaleString('en-GB')} tracks`);

/** Larger pictures are made so small, in pixels a side. */
const MAX_SIDE = 1200;
const MAX_BYTES = 1_500_000;

/** A picture as it goes into files: JPEG or PNG, of a sane size. @throws Problem for what is no picture */
export async function keepPicture(
  { art }: ChangeContext,
  data: Uint8Array,
  name: string,
): Promise<{ hash: string; width: number; height: number; bytes: number }> {
  const read = await workOnPicture(data, async (picture) => {
    const { format, width, height } = await picture.metadata();
    const fits = Math.max(width, height) <= MAX_SIDE && data.length <= MAX_BYTES;
    if (fits && (format === 'jpeg' || format === 'png')) {
      await readThrough(picture);
      return { data, width, height };
    }
    const made = await picture
      .rotate()
      .resize(MAX_SIDE, MAX_SIDE, { fit: 'inside', withoutEnlargement: true })
      .flatten({ background: '#fff' })
      .jpeg({ quality: 90 })
      .toBuffer({ resolveWithObject: true });
    return { data: new Uint8Array(made.data), width: made.info.width, height: made.info.height };
  });
  const hash = read && (await art.keep(read.data));
  if (!hash)
    throw new Problem(415, 'no-picture', `${name} is no whole JPEG, PNG, WebP or GIF of a size that can be used`);
  return { hash, width: read.width, height: read.height, bytes: read.data.length };
}

const COVER = /^(?:cover|folder|front|album)\b.*\.(?:jpe?g|png|webp)$/i,
  PICTURE = /\.(?:jpe?g|png|webp)$/i;

/**
 * The picture that lies in a track's folder: what is called a cover first, else the largest. @throws Problem when
 * there is none
 */
export async function folderPicture(context: ChangeContext, trackId: number): Promise<{ hash: string; name: string }> {
  const file = await fileOf(context.database, trackId);
  const folder = dirname(await resolveInRoot(file.rootPath, file.path));
  const names = (await readdir(folder)).filter((n) => PICTURE.test(n) && extname(n) !== '');
  const sized = await Promise.all(
    names.map(async (name) => ({ name, size: (await stat(join(folder, name))).size, cover: COVER.test(name) })),
  );
  const best = sized.sort((a, b) => Number(b.cover) - Number(a.cover) || b.size - a.size)[0];
  if (!best) throw new Problem(404, 'no-picture', 'There is no cover in this folder');
  const relative = file.path.includes('/') ? `${dirname(file.path)}/${best.name}` : best.name;
  const kept = await keepPicture(
    context,
    await readCover(await resolveInRoot(file.rootPath, relative), best.name),
    best.name,
  );
  return { hash: kept.hash, name: best.name };
}

const readCover = (path: string, name: string): Promise<Uint8Array> =>
  readRegular(path, MAX_PICTURE_BYTES).catch((error: unknown) => {
    throw new Problem(415, 'no-picture', `${name}: ${reasonOf(error)}`);
  });

/** Gives chosen tracks a picture, or takes theirs away. @throws Problem when nothing would change */
export const setPicture = (context: ChangeContext, selection: Selection, hash: string | null): Promise<Applied> =>
  editInTurn(context, async () => {
    const { database } = context;
    if (hash && (await database.rows('SELECT 1 FROM arts WHERE hash = $1', [hash])).length === 0)
      throw new Problem(404, 'not-found', 'That cover is no longer kept');
    const rows = await database.rows<{ id: number; artHash: string | null }>(
      'SELECT id, art_hash AS "artHash" FROM tracks WHERE id = ANY($1::int[]) ORDER BY id',
      [await selectedIds(database, selection)],
    );
    const items = rows.filter((r) => r.artHash !== hash).map((r) => pictureItem(r.id, r.artHash, hash));
    if (items.length === 0)
      throw new Problem(409, 'nothing-to-do', hash ? 'They have this cover already' : 'They have no cover');
    return { title: `${hash ? 'Cover' : 'Cover removed'} on ${tracksInWords(items.length)}`, items };
  });
