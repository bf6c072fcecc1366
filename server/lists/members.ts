/**
 * Who is in self-filling crates, exchanged in sets; and crates that hold what lies in one folder, all of them at once.
 */
import type { Rule } from '@early-set/core/conditions/rule';
import { refKey, type FileRef } from '@early-set/core/files/fileRef';
import type { Transaction } from 'sequelize';
import type { Database } from '../db/database.ts';

export type Member = { listId: string; trackId: number };

/** The folder of which a rule holds just what lies in it itself; null where it asks for anything else. */
export function folderOfRule({ where, limit }: Rule): FileRef | null {
  return !limit && 'inFolder' in where && !where.below ? where.inFolder : null;
}

/** Makes those who are wanted out of those who are there; answers who came or went. */
export async function exchange(
  database: Database,
  there: readonly Member[],
  wanted: readonly Member[],
  t: Transaction,
): Promise<Member[]> {
  const key = (m: Member): string => `${m.listId} ${m.trackId}`;
  const has = new Set(there.map(key)),
    wants = new Set(wanted.map(key));
  const came = wanted.filter((m) => !has.has(key(m))),
    gone = there.filter((m) => !wants.has(key(m)));
  const pairs = 'SELECT * FROM unnest($1::uuid[], $2::int[]) AS v(list_id, track_id)';
  const columns = (members: Member[]): unknown[] => [members.map((m) => m.listId), members.map((m) => m.trackId)];
  if (came.length) await database.run(`INSERT INTO rule_members ${pairs} ON CONFLICT DO NOTHING`, columns(came), t);
  if (gone.length)
    await database.run(
      `DELETE FROM rule_members m USING (${pairs}) v WHERE m.list_id = v.list_id AND m.track_id = v.track_id`,
      columns(gone),
      t,
    );
  return [...came, ...gone];
}

/**
 * Puts tracks into the crates of their folders, for all crates of that sort at once.
 * @param ids the tracks that are looked at; null for all
 */
export async function byFolder(
  database: Database,
  crates: readonly { id: string; rule: Rule }[],
  ids: readonly number[] | null,
  t: Transaction,
): Promise<Member[]> {
  const lists = new Map<string, string[]>();
  const own: string[] = [],
    folders = new Set<string>();
  for (const { id, rule } of crates) {
    const folder = folderOfRule(rule);
    if (!folder) continue;
    own.push(id);
    folders.add(folder.path);
    lists.set(refKey(folder), [...(lists.get(refKey(folder)) ?? []), id]);
  }
  if (own.length === 0 || ids?.length === 0) return [];
  const tracks = await database.rows<{ id: number; rootId: number; path: string }>(
    `SELECT id, root_id AS "rootId", folder AS path FROM tracks
      WHERE folder = ANY($1::text[]) AND ($2::int[] IS NULL OR id = ANY($2::int[]))`,
    [[...folders], ids],
    t,
  );
  const there = await database.rows<Member>(
    `SELECT list_id AS "listId", track_id AS "trackId" FROM rule_members
      WHERE list_id = ANY($1::uuid[]) AND ($2::int[] IS NULL OR track_id = ANY($2::int[]))`,
    [own, ids],
    t,
  );
  const wanted = tracks.flatMap(({ id, rootId, path }) =>
    (lists.get(refKey({ rootId, path })) ?? []).map((listId): Member => ({ listId, trackId: id })),
  );
  return exchange(database, there, wanted, t);
}
