/** Which columns the sheet shows, in which order and how wide; kept in this browser. */
import { DEFAULT_COLUMNS, FIELDS, findField } from '@early-set/core/fields/table';
import type { SheetColumn } from '../../../data/layouts.ts';
import { forget, useRemembered } from '../../../data/remembered.ts';

export type Column = SheetColumn;
const OWN: Record<string, { label: string; width: number }> = {
  fit: { label: 'Fit', width: 50 },
  toTarget: { label: 'To target', width: 78 },
  cover: { label: 'Cover', width: 50 },
};
const widthOf = (id: string): number => OWN[id]?.width ?? findField(id)?.width ?? 80;
const DEFAULTS: Column[] = [...DEFAULT_COLUMNS, 'fit'].map((id) => ({ id, width: widthOf(id) }));

/** Everything that can be a column: all fields but the version (shown behind the title), and the fit. */
export const COLUMN_CHOICES: { id: string; label: string }[] = [
  ...FIELDS.map((f) => ({ id: f.id, label: f.label })),
  ...Object.entries(OWN).map(([id, { label }]) => ({ id, label })),
];

export const labelOf = (id: string): string => OWN[id]?.label ?? findField(id)?.label ?? id;

/** Do figures stand right-aligned in it? */
export const isFigure = (id: string): boolean =>
  (id in OWN && id !== 'cover') ||
  (['number', 'integer', 'seconds'].includes(findField(id)?.type ?? '') && !['energy', 'rating'].includes(id));

/** Can be sorted by: a cover is only looked at. */
export const isSortable = (id: string): boolean => id !== 'cover';

/** Can it be typed over in the sheet? */
export const isTypable = (id: string): boolean => {
  const field = findField(id);
  return field !== undefined && field.editable && !field.long && !['marks', 'flag', 'choice'].includes(field.type);
};

/** The columns and what can be done with them. */
export function useColumns(): {
  columns: Column[];
  show: (id: string, on: boolean) => void;
  move: (from: string, to: string) => void;
  resize: (id: string, width: number) => void;
  reset: () => void;
} {
  const [stored, store] = useRemembered<Column[]>('columns', DEFAULTS);
  const columns = stored.filter((c) => c.id in OWN || findField(c.id));
  return {
    columns,
    show: (id, on) => store(on ? [...columns, { id, width: widthOf(id) }] : columns.filter((c) => c.id !== id)),
    move: (from, to) => {
      const moving = columns.find((c) => c.id === from);
      if (!moving || from === to) return;
      const goesDown = columns.findIndex((c) => c.id === from) < columns.findIndex((c) => c.id === to);
      const rest = columns.filter((c) => c.id !== from);
      rest.splice(rest.findIndex((c) => c.id === to) + (goesDown ? 1 : 0), 0, moving);
      store(rest);
    },
    resize: (id, width) =>
      store(columns.map((c) => (c.id === id ? { ...c, width: Math.round(Math.max(40, Math.min(700, width))) } : c))),
    reset: () => forget('columns'),
  };
}
