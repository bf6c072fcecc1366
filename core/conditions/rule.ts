/** The rule of a self-filling crate: which tracks are in it, and how many of them in which order. */
import { FIELDS, findField } from '../fields/table.ts';
import { SEARCHED, type Condition } from './condition.ts';

/** Only the first so many, by the values of a field, or at random; the seed makes chance the same each time. */
export type Limit = { count: number; by: string; descending: boolean } | { count: number; by: 'random'; seed: number };

export interface Rule {
  where: Condition;
  limit?: Limit;
}

/** Most tracks that a limit can name. */
export const MAX_LIMIT = 100_000;

/** Reads a rule as it is kept; null where it is none. Its condition is not checked. */
export function readRule(text: string): Rule | null {
  try {
    const read = JSON.parse(text) as Partial<Rule> | null;
    return read && typeof read.where === 'object' && read.where !== null ? (read as Rule) : null;
  } catch {
    return null;
  }
}

/** A rule as it is kept. */
export const writeRule = ({ where, limit }: Rule): string => JSON.stringify(limit ? { where, limit } : { where });

/** May a crate be limited by this field? Long texts and marks have no order. */
export const ordersBy = (id: string): boolean => {
  const field = findField(id);
  return !!field && !field.long && field.type !== 'marks' && field.id !== 'unwritten';
};
export const LIMIT_FIELDS: readonly string[] = FIELDS.filter((f) => ordersBy(f.id)).map((f) => f.id);

/** Every condition of a tree, from the top. */
export function* conditionsIn(condition: Condition): Generator<Condition> {
  yield condition;
  if ('all' in condition) for (const c of condition.all) yield* conditionsIn(c);
  if ('any' in condition) for (const c of condition.any) yield* conditionsIn(c);
  if ('not' in condition) yield* conditionsIn(condition.not);
}

/** Under this name a change of lists is one that conditions can ask about. */
export const LISTS_CHANGED = 'lists';

/** The same for the lists of dates. */
export const DATES_CHANGED = 'dates';

/** The fields whose change can put a track into the crate or take it out. */
export function fieldsOfRule({ where, limit }: Rule): Set<string> {
  const fields = new Set<string>();
  for (const c of conditionsIn(where)) {
    if ('inLists' in c) fields.add(LISTS_CHANGED);
    else if ('onDates' in c) fields.add(LISTS_CHANGED).add(DATES_CHANGED);
    else if ('ofScan' in c) ['fileState', 'addedAt'].forEach((f) => fields.add(f));
    else if ('inFolder' in c) ['root', 'path', 'folder'].forEach((f) => fields.add(f));
    else if ('test' in c && c.field !== undefined) fields.add(c.field);
    else if ('test' in c) SEARCHED.forEach((f) => fields.add(f.id));
  }
  if (limit && limit.by !== 'random') fields.add(limit.by);
  return fields;
}

/** The lists that a rule asks about. */
export const listsOfRule = ({ where }: Rule): Set<string> =>
  new Set([...conditionsIn(where)].flatMap((c) => ('inLists' in c ? c.inLists : [])));

/** Does a rule ask what day it is? */
export const asksTheDay = ({ where }: Rule): boolean =>
  [...conditionsIn(where)].some((c) => 'test' in c && c.test === 'in the last');

/**
 * Self-filling crates in an order in which each comes after those it asks about.
 * @returns null where some ask about each other in a circle
 */
export function inTurn<T extends { id: string; rule: Rule }>(crates: readonly T[]): T[] | null {
  const byId = new Map(crates.map((c) => [c.id, c]));
  const order: T[] = [];
  const state = new Map<string, 'begun' | 'done'>();
  const visit = (crate: T): boolean => {
    const been = state.get(crate.id);
    if (been) return been === 'done';
    state.set(crate.id, 'begun');
    for (const id of listsOfRule(crate.rule)) {
      const asked = byId.get(id);
      if (asked && !visit(asked)) return false;
    }
    state.set(crate.id, 'done');
    order.push(crate);
    return true;
  };
  return crates.every(visit) ? order : null;
}
