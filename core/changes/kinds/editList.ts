/** A list made, described, filled, put in order; and what its entries carry. */
import type { EntryData, ListInfo, ListState, Snapshot } from '../snapshot.ts';
import { listsOfRule, readRule } from '../../conditions/rule.ts';
import { place, type Placement } from '../placements.ts';
import { defineKind } from './kind.ts';

export type ListEdit =
  | { op: 'exist'; before: ListInfo | null; after: ListInfo | null }
  | { op: 'describe'; before: Partial<ListInfo>; after: Partial<ListInfo> }
  | { op: 'place'; placements: Placement[] }
  | { op: 'describe-entry'; entryId: string; before: EntryData; after: EntryData };

export interface EditList {
  kind: 'edit-list';
  listId: string;
  edit: ListEdit;
}

export const editList = (listId: string, edit: ListEdit): EditList => ({ kind: 'edit-list', listId, edit });

/** The edit of a list that an item is; null for other items. */
export const listEdit = (item: { kind: string }): EditList | null =>
  item.kind === editListKind.kind ? (item as EditList) : null;

/** How many entries an item places. */
export function placedBy(item: { kind: string }): number {
  const edit = listEdit(item)?.edit;
  return edit?.op === 'place' ? edit.placements.length : 0;
}

/** The list after an edit; undefined when it no longer exists. */
export function applyEdit(list: ListState | undefined, edit: ListEdit): ListState | undefined {
  if (edit.op === 'exist') return edit.after ? { info: edit.after, entries: list?.entries ?? [] } : undefined;
  if (!list) return undefined;
  switch (edit.op) {
    case 'describe':
      return { ...list, info: { ...list.info, ...edit.after } };
    case 'describe-entry':
      return {
        ...list,
        entries: list.entries.map((e) => (e.id === edit.entryId ? { ...e, data: changedData(e.data, edit) } : e)),
      };
    case 'place':
      return { ...list, entries: place(list.entries, edit.placements) };
  }
}

/** Only what the edit is about changes; what it sets to nothing goes. */
function changedData(data: EntryData, { before, after }: { before: EntryData; after: EntryData }): EntryData {
  const rest = Object.entries(data).filter(([name]) => !(name in before) && !(name in after));
  return { ...Object.fromEntries(rest), ...after };
}

function placementConflict(placements: Placement[], list: ListState): string | null {
  const there = new Set(list.entries.map((e) => e.id));
  const tracks = new Set(list.entries.map((e) => e.trackId));
  for (const p of placements) {
    if (p.before === null && there.has(p.entryId)) return 'The entry is in the list already';
    if (p.before !== null && !there.has(p.entryId)) return 'The entry is no longer in the list';
    if (list.info.rule && p.before === null) return 'A self-filling crate is filled by its conditions';
    if (list.info.kind === 'crate' && p.before === null && p.trackId !== null && tracks.has(p.trackId))
      return 'The track is in the crate already';
    if (p.after === null) {
      there.delete(p.entryId);
      tracks.delete(p.trackId);
    } else {
      there.add(p.entryId);
      tracks.add(p.trackId);
    }
  }
  return null;
}

/** Would a list come to lie inside itself? */
function liesInItself(listId: string, parentId: string | null, { lists }: Snapshot): boolean {
  const seen = new Set([listId]);
  for (let at = parentId; at !== null; at = lists.get(at)?.info.parentId ?? null) {
    if (seen.has(at)) return true;
    seen.add(at);
  }
  return false;
}

/** The lists about which a crate would ask after an edit that gives it conditions. */
export function rulesLists(edit: ListEdit): ReadonlySet<string> {
  const text = edit.op === 'describe' || edit.op === 'exist' ? edit.after?.rule : null;
  const rule = text ? readRule(text) : null;
  return rule ? listsOfRule(rule) : new Set();
}

/** Would a crate come to ask about itself, by way of others too? */
function asksItself(listId: string, edit: ListEdit, { lists }: Snapshot): boolean {
  const seen = new Set<string>();
  const open = [...rulesLists(edit)];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    if (id === listId) return true;
    if (seen.has(id)) continue;
    seen.add(id);
    const rule = readRule(lists.get(id)?.info.rule ?? '');
    if (rule) open.push(...listsOfRule(rule));
  }
  return false;
}
const IN_A_CIRCLE = 'A self-filling crate cannot ask about itself, by way of others either';

function conflict({ listId, edit }: EditList, snapshot: Snapshot): string | null {
  const list = snapshot.lists.get(listId);
  if (edit.op === 'exist') {
    if (edit.before === null)
      return list ? 'The list is there already' : asksItself(listId, edit, snapshot) ? IN_A_CIRCLE : null;
    if (!list) return 'The list is no longer there';
    return edit.after === null && list.entries.length > 0 ? 'The list has been filled since' : null;
  }
  if (!list) return 'The list is no longer there';
  switch (edit.op) {
    case 'describe': {
      const changed = (Object.keys(edit.before) as (keyof ListInfo)[]).some((k) => list.info[k] !== edit.before[k]);
      if (changed) return 'The list has been changed since';
      if (asksItself(listId, edit, snapshot)) return IN_A_CIRCLE;
      return edit.after.parentId && liesInItself(listId, edit.after.parentId, snapshot)
        ? 'A crate cannot lie inside itself'
        : null;
    }
    case 'describe-entry': {
      const entry = list.entries.find((e) => e.id === edit.entryId);
      if (!entry) return 'The entry is no longer in the list';
      const names = new Set([...Object.keys(edit.before), ...Object.keys(edit.after)]) as Set<keyof EntryData>;
      return [...names].some((n) => entry.data[n] !== edit.before[n]) ? 'The entry has been changed since' : null;
    }
    case 'place':
      return placementConflict(edit.placements, list);
  }
}

function inverseEdit(edit: ListEdit): ListEdit {
  switch (edit.op) {
    case 'exist':
      return { op: 'exist', before: edit.after, after: edit.before };
    case 'describe':
      return { op: 'describe', before: edit.after, after: edit.before };
    case 'describe-entry':
      return { ...edit, before: edit.after, after: edit.before };
    case 'place':
      return {
        op: 'place',
        placements: edit.placements.map((p) => ({ ...p, before: p.after, after: p.before })).reverse(),
      };
  }
}

const NAMES: Record<keyof ListInfo, string> = {
  name: 'name',
  parentId: 'crate it lies in',
  position: 'place among its neighbours',
  removed: 'removed',
  startsAt: 'start',
  shape: 'wished shape',
  rule: 'conditions',
  colour: 'colour',
  note: 'note',
  wishedSeconds: 'wished length',
  reserveId: 'reserve',
  mirror: 'settings of the mirror',
  mirrorOf: 'mirror it belongs to',
  clock: 'format clock',
  onAirAt: 'beginning',
  kind: 'kind',
};
const several = (n: number): string => `${n.toLocaleString('en-GB')} ${n === 1 ? 'entry' : 'entries'}`;
const tracks = (n: number): string => `${n.toLocaleString('en-GB')} ${n === 1 ? 'track' : 'tracks'}`;

function sentence(edit: ListEdit): string {
  switch (edit.op) {
    case 'exist':
      return edit.after ? `${edit.after.kind} made` : `${edit.before?.kind ?? 'list'} removed`;
    case 'describe':
      return (Object.keys(edit.after) as (keyof ListInfo)[])
        .map((k) => {
          if (k === 'removed') return edit.after.removed ? 'removed' : 'restored';
          if (k === 'rule') return edit.after.rule === null ? 'made a plain crate' : 'other conditions';
          return ['name', 'startsAt', 'note'].includes(k)
            ? `${NAMES[k]}: ${edit.before[k] ?? 'none'} → ${edit.after[k] ?? 'none'}`
            : `another ${NAMES[k]}`;
        })
        .join(', ');
    case 'describe-entry':
      return `entry changed: ${[...new Set([...Object.keys(edit.before), ...Object.keys(edit.after)])].join(', ')}`;
    case 'place': {
      const put = edit.placements.filter((p) => !p.before).length,
        taken = edit.placements.filter((p) => !p.after).length,
        moved = edit.placements.length - put - taken;
      const count = edit.placements.every((p) => p.trackId !== null) ? tracks : several;
      return [put && `${count(put)} added`, taken && `${count(taken)} removed`, moved && `${count(moved)} moved`]
        .filter(Boolean)
        .join(', ');
    }
  }
}

export const editListKind = defineKind<EditList>({
  kind: 'edit-list',
  area: 'lists',
  inFiles: false,
  touches: ({ listId }) => ({ lists: [listId] }),
  conflict,
  apply({ listId, edit }, { lists }) {
    const next = applyEdit(lists.get(listId), edit);
    if (next) lists.set(listId, next);
    else lists.delete(listId);
  },
  inverse: (item) => ({ ...item, edit: inverseEdit(item.edit) }),
  words: ({ edit }) => ({ show: 'sentence', text: sentence(edit) }),
  searched: ({ edit }) =>
    edit.op === 'exist' || edit.op === 'describe'
      ? [edit.before?.name, edit.after?.name].filter(Boolean).join('\n')
      : '',
});
