/**
 * Folder mirrors: crates that follow the folders of a root. A crate a folder; who is in it follows from where files lie
 * (each crate has a rule that names its folder), so that only the crates themselves are kept and changed here.
 */
import { describeList } from '../changes/lists.ts';
import { editList, type EditList } from '../changes/kinds/editList.ts';
import type { ListInfo } from '../changes/snapshot.ts';
import { readRule, writeRule, type Rule } from '../conditions/rule.ts';

export const FOLLOW_CHOICES = ['each scan', 'by hand'] as const;
export const GONE_CHOICES = ['stay', 'remove'] as const;
export const MAX_MIRROR_DEPTH = 20;

export interface MirrorSettings {
  rootId: number;
  /** The folder that is mirrored; empty for the whole root. */
  path: string;
  /** So many folders deep; what lies deeper is in the crate of the last. Null: all of them. */
  depth: number | null;
  /** Folders that hold nothing but folders get no crate of their own. */
  onlyWithTracks: boolean;
  /** Names by a Liquid template over `folder`, `parent`, `path`, `root`, `depth`; null: as the folder is called. */
  name: string | null;
  /** Folders that are left out, with what lies in them; paths inside the root. */
  leftOut: readonly string[];
  follow: (typeof FOLLOW_CHOICES)[number];
  /** What becomes of a crate whose folder is gone. */
  gone: (typeof GONE_CHOICES)[number];
}

/** How a new mirror follows its folder, where nothing else is chosen. */
export const DEFAULT_MIRROR: Omit<MirrorSettings, 'rootId' | 'path'> = {
  depth: null,
  onlyWithTracks: true,
  name: null,
  leftOut: [],
  follow: 'each scan',
  gone: 'stay',
};

export interface MirroredFolder {
  path: string;
  /** Tracks directly in it whose files are there. */
  tracks: number;
}

/** What a track's file is known by when its folder was moved: name and size. */
export interface MirroredFile {
  folder: string;
  key: string;
  here: boolean;
}

export interface MirrorCrate {
  id: string;
  info: ListInfo;
}

export interface MirrorReport {
  found: number;
  made: number;
  moved: number;
  gone: number;
}

export interface MirrorPlan {
  items: EditList[];
  report: MirrorReport;
}

export interface MirrorWish {
  settings: MirrorSettings;
  /** The topmost crate, that of `settings.path`. */
  top: MirrorCrate;
  /** All other crates of the mirror, removed ones too. */
  crates: readonly MirrorCrate[];
  folders: readonly MirroredFolder[];
  files: readonly MirroredFile[];
  /** A folder's name; the path inside the root is given. */
  nameOf: (path: string, depth: number) => string;
  newId: () => string;
}

/** Reads settings as they are kept; null where they are none. */
export function readMirror(text: string | null): MirrorSettings | null {
  if (text === null) return null;
  try {
    const read = JSON.parse(text) as MirrorSettings | null;
    return read && typeof read.rootId === 'number' && typeof read.path === 'string' ? read : null;
  } catch {
    return null;
  }
}

/** The folder that a crate mirrors; null where it mirrors none. */
export function mirroredPath(rule: string | null): string | null {
  const where = rule === null ? undefined : readRule(rule)?.where;
  return where && 'inFolder' in where ? where.inFolder.path : null;
}

const within = (path: string, folder: string): boolean =>
  folder === '' || path === folder || path.startsWith(`${folder}/`);
const parentOf = (path: string): string => path.slice(0, Math.max(0, path.lastIndexOf('/')));
const depthIn = (path: string, top: string): number =>
  path === top ? 0 : path.slice(top === '' ? 0 : top.length + 1).split('/').length;

const ruleFor = ({ rootId, depth }: MirrorSettings, path: string, level: number): string => {
  const rule: Rule = { where: { inFolder: { rootId, path }, below: level === depth } };
  return writeRule(rule);
};

/** The rule of the topmost crate. */
export const topRule = (settings: MirrorSettings): string => ruleFor(settings, settings.path, 0);

/** The folders that get a crate, parents first. */
function wantedFolders({ settings, folders }: MirrorWish): string[] {
  const { path: top, depth, leftOut, onlyWithTracks } = settings;
  const own = new Map(folders.map((f) => [f.path, f.tracks]));
  const wanted = new Set<string>();
  for (const { path, tracks } of folders) {
    if (path === top || !within(path, top) || (onlyWithTracks && tracks === 0)) continue;
    for (let at = path; at !== top && at !== ''; at = parentOf(at)) {
      const level = depthIn(at, top);
      if (depth !== null && level > depth) continue;
      // Folders of folders are passed over, but for the last level: what lies deeper is in that one.
      const holds = level === depth || (own.get(at) ?? 0) > 0;
      if (!onlyWithTracks || holds) wanted.add(at);
    }
  }
  return [...wanted]
    .filter((path) => !leftOut.some((folder) => within(path, folder)))
    .sort((a, b) => depthIn(a, top) - depthIn(b, top) || a.localeCompare(b, 'en', { numeric: true }));
}

/** Where folders that are gone have come to lie: where at least half of their files are now. */
function movedFolders(gone: readonly string[], free: readonly string[], { files }: MirrorWish): Map<string, string> {
  const lost = new Map<string, string[]>(),
    there = new Map<string, Set<string>>();
  for (const { folder, key, here } of files) {
    if (here) there.set(folder, (there.get(folder) ?? new Set()).add(key));
    else lost.set(folder, [...(lost.get(folder) ?? []), key]);
  }
  const moved = new Map<string, string>(),
    taken = new Set<string>();
  for (const path of gone) {
    const keys = lost.get(path) ?? [];
    const best = free
      .filter((f) => !taken.has(f) && there.has(f))
      .map((f) => ({ f, same: keys.filter((k) => there.get(f)!.has(k)).length }))
      .reduce<{ f: string; same: number } | null>((a, b) => (b.same > (a?.same ?? 0) ? b : a), null);
    if (!best || best.same * 2 < keys.length) continue;
    moved.set(path, best.f);
    taken.add(best.f);
  }
  // A folder of folders goes where what was in it went.
  for (const path of [...gone].reverse()) {
    if (moved.has(path)) continue;
    for (const [from, to] of moved) {
      if (!from.startsWith(`${path}/`)) continue;
      const rest = from.slice(path.length);
      const target = to.endsWith(rest) ? to.slice(0, -rest.length) : null;
      if (target === null || taken.has(target) || !free.includes(target)) continue;
      moved.set(path, target);
      taken.add(target);
      break;
    }
  }
  return moved;
}

/** What has to be done so that a mirror shows its folders as they are. */
export function planMirror(wish: MirrorWish): MirrorPlan {
  const { settings, top, crates, nameOf, newId } = wish;
  const wanted = wantedFolders(wish);
  const byPath = new Map<string, MirrorCrate>();
  for (const crate of crates) {
    const path = mirroredPath(crate.info.rule);
    if (path !== null && (!byPath.has(path) || byPath.get(path)!.info.removed)) byPath.set(path, crate);
  }
  const isWanted = new Set(wanted);
  const isThere = (path: string): boolean => wish.folders.some((f) => within(f.path, path));
  const unwanted = [...byPath.keys()].filter((path) => !isWanted.has(path) && !byPath.get(path)!.info.removed);
  // Their folders are there, but by these settings they get no crate.
  const dropped = unwanted.filter(isThere),
    gone = unwanted.filter((path) => !dropped.includes(path));
  const free = wanted.filter((path) => !byPath.has(path));
  const moved = movedFolders(gone, free, wish);
  for (const [from, to] of moved) {
    byPath.set(to, byPath.get(from)!);
    byPath.delete(from);
  }
  const cameFrom = new Map([...moved].map(([from, to]) => [to, from]));
  const ids = new Map<string, string>([[settings.path, top.id]]);
  const items: EditList[] = [];
  const report: MirrorReport = { found: wanted.length, made: 0, moved: moved.size, gone: gone.length - moved.size };
  for (const [i, path] of wanted.entries()) {
    const level = depthIn(path, settings.path);
    let above = parentOf(path);
    while (!ids.has(above)) above = parentOf(above);
    const parentId = ids.get(above)!;
    const derived = { parentId, rule: ruleFor(settings, path, level), position: i + 1 };
    const there = byPath.get(path);
    const name = nameOf(path, level);
    if (there) {
      ids.set(path, there.id);
      // A name that somebody has given stays.
      const former = cameFrom.get(path);
      const wasDerived = former !== undefined && there.info.name === nameOf(former, level);
      const change = { ...derived, removed: false, ...(wasDerived ? { name } : {}) };
      items.push(...describeList(there.id, { info: there.info, entries: [] }, change));
    } else {
      const id = newId();
      ids.set(path, id);
      report.made++;
      const info: ListInfo = { ...top.info, ...derived, name, mirror: null, mirrorOf: top.id, removed: false };
      items.push(editList(id, { op: 'exist', before: null, after: { ...info, colour: null, note: null } }));
    }
  }
  for (const path of [...dropped, ...(settings.gone === 'remove' ? gone.filter((p) => !moved.has(p)) : [])]) {
    const crate = byPath.get(path)!;
    items.push(...describeList(crate.id, { info: crate.info, entries: [] }, { removed: true }));
  }
  return { items, report };
}

/** "12 found, 2 new, 1 moved, none gone". */
export const mirrorInWords = ({ found, made, moved, gone }: MirrorReport): string =>
  `${found.toLocaleString('en-GB')} found, ${made} new, ${moved} moved, ${gone} gone`;
