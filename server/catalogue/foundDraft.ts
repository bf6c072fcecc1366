/** Taking what was found: a draft over the fields and pictures of groups, applied as one change set. */
import type { GroupTrack, LookupGroup, TakeDraft, TakePolicies } from '@early-set/core/api/catalogue';
import type { Applied } from '@early-set/core/api/types';
import type { FieldEdit } from '@early-set/core/changes/fields';
import { goesIn } from '@early-set/core/fields/merge';
import { setPicture, type SetPicture } from '@early-set/core/changes/kinds/setPicture';
import { proposals } from '@early-set/core/catalogue/proposals';
import type { ChangeContext } from '../changes/context.ts';
import { editInTurn } from '../changes/edits.ts';
import { draftOf } from '../clean/clean.ts';
import type { Database } from '../db/database.ts';
import { Problem } from '../base/problem.ts';
import { serviceAddress } from '../db/services.ts';
import { openCatalogue } from './client.ts';
import { groupRow, groupTracks, lookupById } from './lookups.ts';

interface Taken {
  groups: LookupGroup[];
  edits: FieldEdit[];
  paths: Map<number, string>;
  /** Tracks that want a release's picture. */ pictures: { releaseId: string; tracks: GroupTrack[] }[];
}

/** What would be taken of groups; null: of all that are sure. */
async function takenOf(
  database: Database,
  lookupId: number,
  groupIds: readonly number[] | null,
  policies: TakePolicies,
): Promise<Taken> {
  const lookup = await lookupById(database, lookupId);
  const wanted = (lookup?.groups ?? []).filter((g) => (groupIds ? groupIds.includes(g.id) : g.state === 'found'));
  const taken: Taken = { groups: [], edits: [], paths: new Map(), pictures: [] };
  for (const line of wanted) {
    const group = await groupRow(database, lookupId, line.id),
      candidate = group.candidates.find((c) => c.release.id === group.chosen);
    if (!candidate) continue;
    taken.groups.push(line);
    const tracks = await groupTracks(database, group.trackIds);
    const onLines = tracks.filter((t) => candidate.match.lines[t.id] !== undefined);
    for (const t of onLines) {
      const fields = proposals(
        t.values,
        t.locked,
        candidate.release,
        candidate.release.tracks[candidate.match.lines[t.id]!]!,
        policies,
      ).filter((p) => p.taken);
      taken.paths.set(t.id, t.path);
      if (fields.length)
        taken.edits.push({
          trackId: t.id,
          fields: Object.fromEntries(fields.map((p) => [p.field, { before: p.ours, after: p.theirs }])),
        });
    }
    const without = onLines.filter((t) => goesIn(t.artHash, policies.picture));
    if (without.length && candidate.release.hasPicture)
      taken.pictures.push({ releaseId: candidate.release.id, tracks: without });
  }
  return taken;
}

/** The same as lines to look at; the first of them. */
export async function takeDraft(
  database: Database,
  lookupId: number,
  groupIds: readonly number[] | null,
  policies: TakePolicies,
): Promise<TakeDraft> {
  const { groups, edits, paths } = await takenOf(database, lookupId, groupIds, policies);
  return {
    groups: groups.length,
    tracks: edits.length,
    fields: edits.reduce((n, e) => n + Object.keys(e.fields).length, 0),
    lines: edits.slice(0, 300).map((e) => ({
      trackId: e.trackId,
      path: paths.get(e.trackId)!,
      fields: Object.entries(e.fields).map(([field, change]) => ({ field, ...change })),
    })),
  };
}

/** @param groupIds null: all groups that are sure @throws Problem when nothing would change */
export async function takeGroups(
  context: ChangeContext,
  lookupId: number,
  groupIds: readonly number[] | null,
  policies: TakePolicies,
): Promise<Applied> {
  const { database, art } = context;
  const { groups, edits, pictures: wanted } = await takenOf(database, lookupId, groupIds, policies);
  const address = await serviceAddress(database, 'catalogue'),
    pictures: SetPicture[] = [];
  for (const { releaseId, tracks } of address ? wanted : []) {
    const data = await openCatalogue(database, address!, { tries: 3 })
      .picture(releaseId)
      .catch(() => null);
    const hash = data ? await art.keep(data) : null;
    if (hash) pictures.push(...tracks.filter((t) => t.artHash !== hash).map((t) => setPicture(t.id, t.artHash, hash)));
  }
  // The catalogue may be slow; other edits wait only from here on.
  const applied = await editInTurn(context, async () => {
    const items = [...(await draftOf(database, edits, 'catalogue')), ...pictures];
    if (items.length === 0)
      throw new Problem(409, 'nothing-to-do', 'Nothing would change: the tracks say all of it already');
    const tracks = new Set(items.map((i) => ('trackId' in i ? i.trackId : 0))).size;
    const what = groups.length === 1 ? groups[0]!.name : `${groups.length} releases`;
    return { title: `From the catalogue: ${what}, ${tracks === 1 ? 'one track' : `${tracks} tracks`}`, items };
  });
  await database.run("UPDATE lookup_groups SET state = 'applied', change_set_id = $2 WHERE id = ANY($1::int[])", [
    groups.map((g) => g.id),
    applied.changeSetId,
  ]);
  await database.notify({ kind: 'catalogue' });
  return applied;
}
