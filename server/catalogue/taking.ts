/** Taking what was found: a draft over the fields and pictures of groups, applied as one change set. */
import type { TakePolicies } from '@early-set/core/api/catalogue';
import type { Applied } from '@early-set/core/api/types';
import { editFields, type FieldEdit } from '@early-set/core/changes/fields';
import type { SetPicture } from '@early-set/core/changes/items';
import { proposals } from '@early-set/core/catalogue/proposals';
import { applyEdits, type ChangeContext } from '../changes/changing.ts';
import { heldNow } from '../clean/clean.ts';
import { Problem } from '../problem.ts';
import { catalogueAddress, openCatalogue } from './client.ts';
import { groupRow, groupTracks, lookupById } from './lookups.ts';

/** @param groupIds null: all groups that are sure @throws Problem when nothing would change */
export async function takeGroups(context: ChangeContext, lookupId: number, groupIds: readonly number[] | null, policies: TakePolicies): Promise<Applied> {
  const { database, art } = context;
  const lookup = await lookupById(database, lookupId);
  const wanted = (lookup?.groups ?? []).filter((g) => (groupIds ? groupIds.includes(g.id) : g.state === 'found'));
  const address = await catalogueAddress(database);
  const edits: FieldEdit[] = [], pictures: SetPicture[] = [], taken: number[] = [];
  for (const { id } of wanted) {
    const group = await groupRow(database, lookupId, id), candidate = group.candidates.find((c) => c.release.id === group.chosen);
    if (!candidate) continue;
    taken.push(id);
    const tracks = await groupTracks(database, group.trackIds);
    const onLines = tracks.filter((t) => candidate.match.lines[t.id] !== undefined);
    for (const t of onLines) {
      const fields = proposals(t.values, t.locked, candidate.release, candidate.release.tracks[candidate.match.lines[t.id]!]!, policies).filter((p) => p.taken);
      if (fields.length) edits.push({ trackId: t.id, fields: Object.fromEntries(fields.map((p) => [p.field, { before: p.ours, after: p.theirs }])) });
    }
    const without = onLines.filter((t) => policies.picture === 'theirs' || (policies.picture === 'fill gaps' && t.artHash === null));
    if (without.length && candidate.release.hasPicture && address) {
      const data = await openCatalogue(database, address, { tries: 3 }).picture(candidate.release.id).catch(() => null);
      const hash = data ? await art.keep(data) : null;
      if (hash) pictures.push(...without.filter((t) => t.artHash !== hash).map((t): SetPicture => ({ kind: 'set-picture', trackId: t.id, before: t.artHash, after: hash })));
    }
  }
  const items = [...editFields(edits, await heldNow(database, edits), new Date().toISOString(), 'catalogue'), ...pictures];
  if (items.length === 0) throw new Problem(409, 'nothing-to-do', 'Nothing would change: the tracks say all of it already');
  const tracks = new Set(items.map((i) => ('trackId' in i ? i.trackId : 0))).size;
  const applied = await applyEdits(context, { title: `From the catalogue: ${wanted.length === 1 ? wanted[0]!.name : `${wanted.length} releases`}, ${tracks === 1 ? 'one track' : `${tracks} tracks`}`, items });
  await database.run("UPDATE lookup_groups SET state = 'applied', change_set_id = $2 WHERE id = ANY($1::int[])", [taken, applied.changeSetId]);
  await database.notify({ kind: 'catalogue' });
  return applied;
}
