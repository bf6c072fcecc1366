/** The order of a sheet as SQL over tracks aliased "t". What has no value comes last, whichever way it goes. */
import { findField } from '@early-set/core/fields/table';
import { Problem } from '../base/problem.ts';

export interface Order {
  /** What is compared. */
  key: string;
  /** Whether a track has it; holds no parameters. */
  has: string;
  descending: boolean;
}

/**
 * Null for the order of arrival.
 * @param fit the fit of a track to another; null where there is no such
 * @throws Problem where there is no such column
 */
export function orderOf(sort: string | null, descending: boolean, fit: string | null = null): Order | null {
  if (sort === null) return null;
  if (sort === 'fit') return fit === null ? null : { key: fit, has: 't.bpm IS NOT NULL', descending };
  // The louder, the further down it must go.
  if (sort === 'toTarget') return { key: 't.lufs', has: 't.lufs IS NOT NULL', descending: !descending };
  const field = findField(sort);
  if (!field) throw new Problem(400, 'unknown-field', `There is no column "${sort}" to sort by`);
  const column = `t.${field.sortColumn}`;
  const joined = field.type === 'texts' && field.sortColumn === field.column;
  return { key: joined ? `array_to_string(${column}, '; ')` : column, has: `${column} IS NOT NULL`, descending };
}

/** ORDER BY of tracks that have a value: just what an index says, read forwards or backwards. */
export const byValue = ({ key, descending }: Order): string => (descending ? `${key} DESC, t.id DESC` : `${key}, t.id`);

/** ORDER BY of all of them. */
export function byOrder(order: Order | null): string {
  if (!order) return 't.id';
  const { has } = order;
  return `NOT (${has}), CASE WHEN NOT (${has}) THEN t.id END, ${byValue(order)}`;
}

/** From a track on, that stands in the order; `id` is a parameter. */
export const fromStop = (order: Order | null, id: string): string =>
  order
    ? `(${order.key}, t.id) ${order.descending ? '<=' : '>='}
        ((SELECT ${order.key} FROM tracks t WHERE t.id = ${id}), ${id})`
    : `t.id >= ${id}`;
