/** Folder mirrors: made, brought up to date, taken apart. What has to be done is worked out in core/arrange/mirror. */
import { randomUUID } from 'node:crypto';
import type { Mirrored } from '@early-set/core/api/lists';
import type { Applied } from '@early-set/core/api/types';
import {
  mirrorInWords,
  planMirror,
  readMirror,
  topRule,
  type MirrorCrate,
  type MirroredFile,
  type MirroredFolder,
  type MirrorPlan,
  type MirrorSettings,
} from '@early-set/core/arrange/mirror';
import { crateAfter, type RenamedFolder } from '@early-set/core/arrange/renamedFolder';
import { addTracks, describeList } from '@early-set/core/changes/lists';
import { editList, type EditList } from '@early-set/core/changes/kinds/editList';
import type { ListInfo } from '@early-set/core/changes/snapshot';
import { cleanText } from '@early-set/core/fields/text';
import { allWithin, templates } from '@early-set/core/templates/liquid';
import { reasonOf } from '../files/reasons.ts';
import { Problem } from '../base/problem.ts';
import { applyDraft, type Applying } from '../changes/apply.ts';
import { loadLists } from '../changes/snapshot.ts';
import type { Database } from '../db/database.ts';
import { Root } from '../db/models.ts';
import { foldersBelow } from '../media/folders.ts';
import { allLists, infoOf, quoted, requireCrate, stateOf } from './lists.ts';
import { memberIds } from './selfFilling.ts';

const liquid = templates({ milliseconds: 200, memory: 100_000 });
/** All names of a mirror together may take so long, in milliseconds. */
const MAX_NAMES_MS = 2_000;
/** Longest name that a template gives. */
const MAX_NAME = 200;

/**
 * Names of crates by a template.
 * @throws Problem when it cannot be read; so does what is returned when it cannot be filled, or takes too long
 */
function namer({ name: template }: MirrorSettings, root: string): (path: string, depth: number) => string {
  const partsOf = (path: string): string[] => path.split('/').filter(Boolean);
  const plain = (path: string): string => partsOf(path).at(-1) ?? root;
  if (template === null) return plain;
  const parsed = usable(() => liquid.parse(template));
  const within = allWithin(MAX_NAMES_MS);
  return (path, depth) => {
    const parts = partsOf(path);
    const values = { folder: plain(path), parent: parts.at(-2) ?? root, path, root, depth };
    const name = usable(() => within(() => String(liquid.renderSync(parsed, values))));
    return cleanText(name).slice(0, MAX_NAME) || plain(path);
  };
}

function usable<T>(use: () => T): T {
  try {
    return use();
  } catch (error) {
    throw new Problem(400, 'bad-template', `The template for names: ${reasonOf(error)}`);
  }
}

async function rootOf({ rootId }: MirrorSettings): Promise<Root> {
  const root = await Root.findByPk(rootId);
  if (!root || root.removed) throw new Problem(404, 'not-found', 'The folder is no longer in the library');
  if (root.awaySince) throw new Problem(409, 'drive-away', `The drive of ${root.label} is not there`);
  return root;
}

/** Folders with tracks, and the files in them, at and below a place. */
async function foldersOf(
  database: Database,
  root: Root,
  settings: MirrorSettings,
): Promise<{ folders: MirroredFolder[]; files: MirroredFile[] }> {
  const rows = await database.rows<{ folder: string; name: string; size: string | null; here: boolean }>(
    `SELECT t.folder, substr(t.path, length(t.folder) + 1) AS name, t.file_size AS size, t.file_state = 'here' AS here
      FROM tracks t WHERE t.root_id = $1 AND ($2 = '' OR t.folder = $2 OR left(t.folder, length($2) + 1) = $2 || '/')`,
    [root.id, settings.path],
  );
  const tracks = new Map<string, number>();
  for (const { folder, here } of rows) if (here) tracks.set(folder, (tracks.get(folder) ?? 0) + 1);
  if (!settings.onlyWithTracks)
    for (const path of await foldersBelow(root.path, settings.path)) tracks.set(path, tracks.get(path) ?? 0);
  return {
    folders: [...tracks].map(([path, n]) => ({ path, tracks: n })),
    files: rows.map(({ folder, name, size, here }) => ({
      folder,
      key: `${name.replace(/^\//, '')} ${size ?? ''}`,
      here,
    })),
  };
}

/** The crates of a mirror but its topmost one, removed ones too. */
async function cratesOf(database: Database, topId: string): Promise<MirrorCrate[]> {
  const ids = (await allLists(database)).filter((l) => l.mirrorOf === topId && l.id !== topId).map((l) => l.id);
  return [...(await loadLists(database, ids))].map(([id, { info }]) => ({ id, info }));
}

async function planned(database: Database, top: MirrorCrate, settings: MirrorSettings): Promise<MirrorPlan> {
  const root = await rootOf(settings);
  const nameOf = namer(settings, root.label);
  const crates = await cratesOf(database, top.id);
  return planMirror({
    settings,
    top,
    crates,
    ...(await foldersOf(database, root, settings)),
    nameOf,
    newId: randomUUID,
  });
}

export interface MirrorForm {
  name: string;
  parentId: string | null;
  settings: MirrorSettings;
}

/** Makes a crate for a folder, and crates in it for what lies below. */
export async function makeMirror(context: Applying, wish: MirrorForm): Promise<Applied & Mirrored> {
  const { database } = context;
  const { settings } = wish;
  const root = await rootOf(settings);
  const name = cleanText(wish.name) || (settings.path.split('/').at(-1) ?? '') || root.label;
  const listId = randomUUID();
  const lists = await allLists(database);
  if (wish.parentId !== null) requireCrate(lists, wish.parentId);
  const info: ListInfo = {
    ...infoOf(lists, 'crate', name, wish.parentId),
    rule: topRule(settings),
    mirror: JSON.stringify(settings),
    mirrorOf: listId,
  };
  const { items, report } = await planned(database, { id: listId, info }, settings);
  const { applied } = await applyDraft(context, {
    title: `New folder mirror ${quoted(name)}: ${mirrorInWords(report)}`,
    items: [editList(listId, { op: 'exist', before: null, after: info }), ...items],
  });
  return { ...applied, listId, report };
}

/** Brings a mirror up to date, by other settings where some are given. @throws Problem when it is none */
export async function updateMirror(
  context: Applying,
  topId: string,
  other: MirrorSettings | null = null,
): Promise<(Applied & Mirrored) | Mirrored> {
  const { info, entries } = await stateOf(context.database, topId);
  const settings = other ?? readMirror(info.mirror);
  if (!settings) throw new Problem(409, 'no-mirror', 'This crate follows no folder');
  const change = describeList(
    topId,
    { info, entries },
    other ? { mirror: JSON.stringify(other), rule: topRule(other) } : {},
  );
  const { items, report } = await planned(context.database, { id: topId, info }, settings);
  const all = [...change, ...items];
  if (all.length === 0) return { listId: topId, report };
  const title = `${other ? 'Other settings for' : 'Update'} the folder mirror ${quoted(info.name)}: ${mirrorInWords(report)}`;
  return { ...(await applyDraft(context, { title, items: all })).applied, listId: topId, report };
}

/** Crates, mirrors among them, that ask for a folder which gets another name, or for what lies below it. */
export async function followRenamed(database: Database, renamed: RenamedFolder): Promise<EditList[]> {
  const asking = (await allLists(database)).filter((l) => l.rule !== null || l.mirror !== null);
  const states = await loadLists(
    database,
    asking.map((l) => l.id),
  );
  return [...states].flatMap(([id, { info }]) => {
    const wish = crateAfter(info, renamed);
    return Object.keys(wish).length > 0 ? describeList(id, { info, entries: [] }, wish) : [];
  });
}

/** Makes the crates of a mirror plain ones that hold what they hold now. */
export async function takeMirrorApart(context: Applying, topId: string): Promise<Applied> {
  const { database } = context;
  const top = await stateOf(database, topId);
  if (top.info.mirror === null) throw new Problem(409, 'no-mirror', 'This crate follows no folder');
  const crates = [{ id: topId, info: top.info }, ...(await cratesOf(database, topId))];
  const items = [];
  for (const { id, info } of crates) {
    const plain: ListInfo = { ...info, rule: null, mirror: null, mirrorOf: null };
    items.push(
      ...describeList(id, { info, entries: [] }, { rule: null, mirror: null, mirrorOf: null }),
      ...addTracks(id, { info: plain, entries: [] }, await memberIds(database, id, info), randomUUID),
    );
  }
  return (await applyDraft(context, { title: `Take the folder mirror ${quoted(top.info.name)} apart`, items })).applied;
}

/**
 * Brings the mirrors of a root up to date that follow each scan; answers what became of each, and why one could not:
 * that never holds up the others.
 */
export async function followScan(
  context: Applying,
  rootId: number,
): Promise<{ mirrors: { listId: string; name: string; report: Mirrored['report'] }[]; mirrorTrouble?: string }> {
  const lists = await allLists(context.database);
  const mirrors = [];
  const trouble: string[] = [];
  for (const { id, name, mirror, removed } of lists) {
    const settings = readMirror(mirror);
    if (removed || settings?.rootId !== rootId || settings.follow !== 'each scan') continue;
    try {
      const { report } = await updateMirror(context, id);
      mirrors.push({ listId: id, name, report });
    } catch (error) {
      trouble.push(`${name}: ${reasonOf(error)}`);
    }
  }
  return trouble.length ? { mirrors, mirrorTrouble: trouble.join('; ') } : { mirrors };
}
