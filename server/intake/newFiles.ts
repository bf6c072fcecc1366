/**
 * What is done to the tracks that a scan took in, where their folder asks for it: cleaned by a preset, then moved to
 * where the naming rules want them. Both are changes like all others.
 */
import type { NewFilesReport } from '@early-set/core/api/intake';
import type { FieldEdit } from '@early-set/core/changes/fields';
import { Problem } from '../base/problem.ts';
import { log } from '../base/log.ts';
import type { ChangeContext } from '../changes/context.ts';
import { editInTurn } from '../changes/edits.ts';
import { applyFieldDraft, cleanTracks, nameCounts } from '../clean/clean.ts';
import type { CleanPool } from '../clean/cleanPool.ts';
import { Preset, type Root } from '../db/models.ts';
import { deskSettings } from '../db/settings.ts';
import { placingDraft } from '../disk/places.ts';
import type { PlacesPool } from '../disk/placesPool.ts';
import { reasonOf } from '../files/reasons.ts';
import { several } from '../lists/lists.ts';

export interface NewFilesTools {
  changing: ChangeContext;
  cleanPool: CleanPool;
  placesPool: PlacesPool;
}

/** Does it. What stands in the way is part of the report, and never that of the scan. */
export async function treatNew(tools: NewFilesTools, root: Root, runId: number): Promise<NewFilesReport> {
  if (root.presetId === null && !root.putByRules) return {};
  const rows = await tools.changing.database.rows<{ id: number }>(
    `SELECT t.id FROM scan_tracks s JOIN tracks t ON t.id = s.track_id
      WHERE s.run_id = $1 AND s.part = 'taken' AND t.root_id = $2 ORDER BY t.id`,
    [runId, root.id],
  );
  const ids = rows.map((row) => row.id);
  if (ids.length === 0) return {};
  const report: NewFilesReport = {};
  const trouble: string[] = [];
  const attempt = async (what: string, make: () => Promise<void>): Promise<void> => {
    try {
      await make();
    } catch (error) {
      if (error instanceof Problem && error.code === 'nothing-to-do') return;
      log.warn(error, `new files of ${root.label}: ${what}`);
      trouble.push(`${what}: ${error instanceof Problem ? error.message : reasonOf(error)}`);
    }
  };
  if (root.presetId !== null)
    await attempt('Cleaning', async () => {
      const cleaned = await cleanBy(tools, root.presetId!, `in ${root.label}`, ids);
      if (cleaned) report.cleaned = cleaned;
    });
  if (root.putByRules) await attempt('Naming rules', () => put(tools, ids, report));
  return trouble.length ? { ...report, newFilesTrouble: trouble.join('; ') } : report;
}

/** Tracks cleaned by a preset, as one change; null where there is no such preset. */
export async function cleanBy(
  { changing, cleanPool }: Omit<NewFilesTools, 'placesPool'>,
  presetId: number,
  from: string,
  ids: number[],
): Promise<NewFilesReport['cleaned'] | null> {
  const { database } = changing;
  const preset = await Preset.findByPk(presetId);
  if (!preset) return null;
  const { tracks } = await cleanTracks(database, { ids });
  const { changes, questions, steps } = await cleanPool.clean({
    tracks,
    steps: preset.steps,
    names: await nameCounts(database),
  });
  const asked = new Set(questions.filter((q) => q.answer === null).map((q) => q.trackId)).size;
  const left = steps.flatMap(({ trouble }) => trouble ?? []);
  const none = { preset: preset.name, tracks: 0, changeSetId: null, asked, left };
  if (changes.length === 0) return none;
  const edits = changes.map(({ id, fields }): FieldEdit => ({
    trackId: id,
    fields: Object.fromEntries(fields.map(({ field, before, after }) => [field, { before, after }])),
  }));
  const title = `New ${from}, ${preset.name}: ${several(edits.length, 'track')}`;
  const { changeSetId } = await applyFieldDraft(changing, title, edits);
  return { ...none, tracks: edits.length, changeSetId };
}

async function put({ changing, placesPool }: NewFilesTools, ids: number[], report: NewFilesReport): Promise<void> {
  const { database } = changing;
  let files = 0;
  const { changeSetId } = await editInTurn(changing, async () => {
    const draft = await placingDraft(database, placesPool, (await deskSettings()).naming, ids);
    files = draft.items.length;
    return draft;
  });
  report.put = { files, changeSetId };
}
