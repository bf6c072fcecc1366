/**
 * How a person has arranged the desk: columns of the sheet, widths and folds, colours. Saved under a name, exported,
 * brought back.
 */
import { WORKED_OUT } from '@early-set/core/api/types';
import { findField } from '@early-set/core/fields/table';
import { forget, remembered, write } from './remembered.ts';

export type StageWithDesk = 'tracks' | 'clean' | 'catalogue' | 'arrange' | 'disk' | 'handover' | 'take';
/** Widths in pixels; 0 is folded, null as drawn. */
export interface DeskWidths {
  left: number | null;
  right: number | null;
}
export interface SheetColumn {
  id: string;
  width: number;
}
export type Theme = 'system' | 'day' | 'night';

export interface Layout {
  name: string;
  columns: SheetColumn[] | null;
  widths: Partial<Record<StageWithDesk, DeskWidths>>;
  theme: Theme;
}

const STAGES_WITH_DESK: StageWithDesk[] = ['tracks', 'clean', 'catalogue', 'arrange', 'disk', 'handover', 'take'];
const KIND = 'early-set-layout';
export const AS_DRAWN: DeskWidths = { left: null, right: null };
/** Counts how often a layout was brought back. */
export const LAYOUT_TURN = 'layout-turn';
export const widthsName = (stage: StageWithDesk): string => `widths-${stage}`;

/** The desk as it is now. */
export function currentLayout(name: string): Layout {
  return {
    name,
    columns: remembered<SheetColumn[] | null>('columns', null),
    widths: Object.fromEntries(STAGES_WITH_DESK.map((s) => [s, remembered(widthsName(s), AS_DRAWN)])),
    theme: remembered<Theme>('theme', 'system'),
  };
}

/** Arranges the desk as a layout says. */
export function arrangeDesk(layout: Layout): void {
  if (layout.columns) write('columns', layout.columns);
  else forget('columns');
  for (const stage of STAGES_WITH_DESK) write(widthsName(stage), layout.widths[stage] ?? AS_DRAWN);
  write('theme', layout.theme);
  write(LAYOUT_TURN, remembered(LAYOUT_TURN, 0) + 1);
}

/** The desk as it is at the first start. */
export const FIRST_LAYOUT: Layout = { name: 'Reset', columns: null, widths: {}, theme: 'system' };

/** A layout as the text of a file. */
export const layoutFile = (layout: Layout): string =>
  `${JSON.stringify({ kind: KIND, version: 1, ...layout }, null, 2)}\n`;

/**
 * Reads a layout file. Columns this version does not know are left out, widths kept in bounds.
 * @throws Error with a sentence when it is none.
 */
export function readLayoutFile(text: string): Layout {
  const none = new Error('This is not a layout of Early Set');
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch {
    throw none;
  }
  if (typeof raw !== 'object' || raw === null || (raw as { kind?: unknown }).kind !== KIND) throw none;
  if ((raw as { version?: unknown }).version !== 1) throw new Error('This layout is from a newer version');
  return readLayout(raw as Record<string, unknown>);
}

/** A layout as this version knows it, whatever else stands there. */
export function readLayout({ name, columns, widths, theme }: Record<string, unknown>): Layout {
  return {
    name: typeof name === 'string' && name.trim() ? name.trim().slice(0, 80) : 'Brought back',
    columns: readColumns(columns),
    widths: Object.fromEntries(
      STAGES_WITH_DESK.map((s) => [s, readWidths((widths as Record<string, unknown> | undefined)?.[s])]),
    ),
    theme: theme === 'day' || theme === 'night' ? theme : 'system',
  };
}

const between = (value: unknown, low: number, high: number): number | null =>
  typeof value === 'number' && Number.isFinite(value) ? Math.round(Math.min(high, Math.max(low, value))) : null;

function readColumns(raw: unknown): SheetColumn[] | null {
  if (!Array.isArray(raw)) return null;
  const seen = new Set<string>();
  const columns = raw.flatMap((c: unknown) => {
    const { id, width } = (typeof c === 'object' && c !== null ? c : {}) as Record<string, unknown>;
    const wide = between(width, 40, 700);
    if (
      typeof id !== 'string' ||
      wide === null ||
      seen.has(id) ||
      (!(WORKED_OUT as readonly string[]).includes(id) && !findField(id))
    )
      return [];
    seen.add(id);
    return [{ id, width: wide }];
  });
  return columns.length ? columns : null;
}

function readWidths(raw: unknown): DeskWidths {
  const { left, right } = (typeof raw === 'object' && raw !== null ? raw : {}) as Record<string, unknown>;
  return { left: between(left, 0, 600), right: between(right, 0, 600) };
}
