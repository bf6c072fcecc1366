/** Duplicates as the page shows them, and how they are settled. */
import type { DuplicateFile, DuplicateGroupLine, Duplicates, SettledGroup } from '@early-set/core/api/disk';
import { editFields } from '@early-set/core/changes/fields';
import type { ChangeItem } from '@early-set/core/changes/items';
import { mergeTracks } from '@early-set/core/changes/kinds/mergeTracks';
import { quarantined, relocateFile } from '@early-set/core/changes/kinds/relocateFile';
import { factsOf } from '@early-set/core/duplicates/facts';
import { groupsOf, isOpen, isSure, pairKey, type DuplicateGroup } from '@early-set/core/duplicates/groups';
import { keepOf } from '@early-set/core/duplicates/keep';
import type { ComparedPair } from '@early-set/core/duplicates/whom';
import { takeOver, TAKEN_FIELDS } from '@early-set/core/duplicates/takeOver';
import { fold } from '@early-set/core/fields/fold';
import { marksOf } from '@early-set/core/fields/marks';
import { fieldOf } from '@early-set/core/fields/table';
import { isEmpty, type TrackValues } from '@early-set/core/fields/values';
import { folderOf } from '@early-set/core/files/paths';
import { Problem } from '../base/problem.ts';
import type { Draft } from '../changes/apply.ts';
import type { Database } from '../db/database.ts';
import { deskSettings } from '../db/settings.ts';
import { several } from '../lists/lists.ts';
import { mainFiles } from '../library/trackFiles.ts';
import { heldOf } from '../library/held.ts';
import { loadTracks } from '../library/trackStore.ts';
import { measuredEarlier, pairsThere, partedPairs, waitingCount } from './duplicateStore.ts';

/** The tracks of all groups that are open. */
export async function openDuplicates(database: Database): Promise<number[]> {
  const [pairs, parted] = [await pairsThere(database), await partedPairs(database)];
  const ids = [...new Set(pairs.flatMap((p) => [p.first, p.second]))];
  const versions = await database.rows<{ id: number; version: string | null }>(
    'SELECT id, version FROM tracks WHERE id = ANY($1::int[])',
    [ids],
  );
  const byId = new Map(versions.map(({ id, version }) => [id, fold(version ?? '')]));
  const keys = new Set(parted.map((p) => pairKey(p.first, p.second)));
  return groupsOf(pairs, (id) => byId.get(id) ?? '', keys)
    .filter(isOpen)
    .flatMap((group) => group.trackIds);
}

/** All groups there are now, with what is compared of their files. */
export async function duplicates(database: Database): Promise<Duplicates> {
  const [pairs, partedRows, waiting, earlier, settings] = await Promise.all([
    pairsThere(database),
    partedPairs(database),
    waitingCount(database),
    measuredEarlier(database),
    deskSettings(),
  ]);
  const ids = [...new Set(pairs.flatMap((p) => [p.first, p.second]))];
  const asked = [...new Set([...settings.gapRules.floor, ...settings.gapRules.playout])];
  const files = await filesOfGroups(database, ids, asked);
  const versionOf = (id: number): string => fold(files.get(id)?.version ?? '');
  const parted = new Set(partedRows.map((p) => pairKey(p.first, p.second)));
  const withFiles = (group: DuplicateGroup): DuplicateGroupLine => ({
    ...group,
    files: group.trackIds.flatMap((id) => files.get(id) ?? []),
  });
  const isParted = (p: ComparedPair): boolean => parted.has(pairKey(p.first, p.second));
  return {
    groups: groupsOf(pairs, versionOf, parted).map(withFiles),
    parted: groupsOf(pairs.filter(isParted), versionOf).map(withFiles),
    waiting,
    earlier,
  };
}

/** Of some new tracks, how many were here already, and how many of those are the ones that would stay. */
export async function hereAlready(
  database: Database,
  isNew: ReadonlySet<number>,
): Promise<{ here: number; better: number }> {
  const [{ groups }, { keepOrder }] = await Promise.all([duplicates(database), deskSettings()]);
  let here = 0,
    better = 0;
  for (const group of groups) {
    const fresh = group.trackIds.filter((id) => isNew.has(id));
    if (!isSure(group) || fresh.length === 0 || fresh.length === group.trackIds.length) continue;
    here += fresh.length;
    if (isNew.has(keepOf(group.files.map(factsOf), keepOrder).trackId)) better++;
  }
  return { here, better };
}

type FileRow = Omit<DuplicateFile, 'folder' | 'cues' | 'lacks' | 'filled'>;

async function filesOfGroups(
  database: Database,
  ids: readonly number[],
  asked: readonly string[],
): Promise<Map<number, DuplicateFile>> {
  const rows = await database.rows<FileRow>(
    `SELECT t.id AS "trackId", COALESCE(t.title, '') AS title, COALESCE(array_to_string(t.artist, '; '), '') AS artist,
        COALESCE(t.version, '') AS version, f.root_id AS "rootId", r.label AS root, f.path, f.size,
        COALESCE(t.format, '') AS format, COALESCE(t.codec, '') AS codec, t.bitrate, t.sample_rate AS "sampleRate",
        t.bandwidth_hz AS "bandwidthHz", t.duration_seconds AS "durationSeconds", t.lufs,
        COALESCE(t.sounds_reencoded, false) AS "soundsReencoded",
        COALESCE((SELECT array_agg(DISTINCT l.name) FROM list_entries e JOIN lists l ON l.id = e.list_id
          WHERE e.track_id = t.id AND NOT l.removed), '{}') AS lists,
        to_char(t.added_at AT TIME ZONE 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') AS "addedAt",
        COALESCE(a.result->'sections', '[]'::jsonb) AS sections
      FROM tracks t JOIN track_files f ON f.track_id = t.id AND f.role = 'main' JOIN roots r ON r.id = f.root_id
      LEFT JOIN analyses a ON a.track_id = t.id
      WHERE t.id = ANY($1::int[]) ORDER BY t.id`,
    [[...ids]],
  );
  const tracks = await database.transaction((t) =>
    loadTracks(database, ids, [...new Set([...TAKEN_FIELDS, ...asked])], t),
  );
  return new Map(
    rows.map((row) => {
      const values: TrackValues = tracks.get(row.trackId)?.values ?? {};
      const lacks = asked.filter((field) => isEmpty(values[field])).map((field) => fieldOf(field).label);
      const filled = TAKEN_FIELDS.filter((field) => !isEmpty(values[field])).length;
      return [
        row.trackId,
        {
          ...row,
          folder: folderOf(row.path).replace(/\/$/, ''),
          cues: marksOf(values.cues ?? null).length,
          lacks,
          filled,
        },
      ];
    }),
  );
}

/**
 * The draft that settles groups: what goes becomes one with what stays, and its file lies in quarantine.
 * @throws Problem when a track is in two groups, or is no duplicate of what stays
 */
export async function settlingDraft(database: Database, groups: readonly SettledGroup[]): Promise<Draft> {
  const ids = groups.flatMap((g) => [g.keep, ...g.go]);
  if (new Set(ids).size !== ids.length) throw new Problem(400, 'bad-groups', 'A track can be in one group only');
  const known = (await duplicates(database)).groups.filter(isOpen);
  const files = await mainFiles(database, ids);
  const tracks = await database.transaction((t) => loadTracks(database, ids, TAKEN_FIELDS, t));
  const now = new Date().toISOString();
  const items: ChangeItem[] = [];
  let gone = 0;
  for (const { keep, go } of groups) {
    const group = known.find(({ trackIds }) => trackIds.includes(keep));
    const stays = tracks.get(keep);
    if (!group || !stays || go.some((id) => !group.trackIds.includes(id)))
      throw new Problem(409, 'no-duplicates', 'These are no duplicates any more; look at the list again');
    const at = (id: number): number => group.offsets[group.trackIds.indexOf(id)]!;
    const going = go.flatMap((id) => {
      const track = tracks.get(id),
        file = files.get(id);
      return track && file ? [{ id, file, values: track.values, offsetSeconds: at(id) - at(keep) }] : [];
    });
    const fields = takeOver(stays.values, going);
    items.push(
      ...editFields([{ trackId: keep, fields }], (_, field) => heldOf(stays.values[field], stays.origins, field), now),
    );
    for (const { id, file, values } of going) {
      items.push(mergeTracks(keep, id, String(values.title ?? '') || file.ref.path));
      items.push(relocateFile('retire', { trackId: keep, fileId: file.id }, file.ref, quarantined(file.ref, file.id)));
      gone++;
    }
  }
  const title = `Put ${several(gone, 'duplicate')} into quarantine`;
  return { title, items };
}
