/** Crates that ask for a folder ask for it under its new name, when it is renamed here. */
import type { ListInfo } from '../changes/snapshot.ts';
import type { Condition } from '../conditions/condition.ts';
import { readRule, writeRule } from '../conditions/rule.ts';
import type { FileRef } from '../files/fileRef.ts';
import { mirroredPath, readMirror } from './mirror.ts';

export interface RenamedFolder {
  from: FileRef;
  to: FileRef;
}

/** A folder after the renaming; the same when it does not lie there. */
export function folderAfter(ref: FileRef, { from, to }: RenamedFolder): FileRef {
  if (ref.rootId !== from.rootId) return ref;
  if (ref.path === from.path) return to;
  if (!ref.path.startsWith(`${from.path}/`)) return ref;
  const rest = ref.path.slice(from.path.length + 1);
  return { rootId: to.rootId, path: to.path === '' ? rest : `${to.path}/${rest}` };
}

function conditionAfter(condition: Condition, renamed: RenamedFolder): Condition {
  const each = (parts: readonly Condition[]): Condition[] => parts.map((part) => conditionAfter(part, renamed));
  if ('all' in condition) return { all: each(condition.all) };
  if ('any' in condition) return { any: each(condition.any) };
  if ('not' in condition) return { not: conditionAfter(condition.not, renamed) };
  return 'inFolder' in condition ? { ...condition, inFolder: folderAfter(condition.inFolder, renamed) } : condition;
}

const lastOf = (path: string): string => path.slice(path.lastIndexOf('/') + 1);

/** What of a crate changes with a folder: what it asks for, what it mirrors, a name that is the folder's own. */
export function crateAfter(
  { name, rule, mirror }: Pick<ListInfo, 'name' | 'rule' | 'mirror'>,
  renamed: RenamedFolder,
): Partial<ListInfo> {
  const out: Partial<ListInfo> = {};
  const read = rule === null ? null : readRule(rule);
  if (read) {
    const after = writeRule({ ...read, where: conditionAfter(read.where, renamed) });
    const before = mirroredPath(rule),
      now = mirroredPath(after);
    if (after !== writeRule(read)) out.rule = after;
    if (before !== now && before !== null && now !== null && name === lastOf(before)) out.name = lastOf(now);
  }
  const settings = readMirror(mirror);
  if (settings) {
    const now = folderAfter({ rootId: settings.rootId, path: settings.path }, renamed);
    if (now.path !== settings.path || now.rootId !== settings.rootId)
      out.mirror = JSON.stringify({ ...settings, ...now });
  }
  return out;
}
