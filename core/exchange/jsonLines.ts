/** JSON Lines: one object a line. What is no object is reported and left as it is. */

export interface JsonLine {
  /** From 1. */
  line: number;
  text: string;
  /** Null where the line cannot be read. */
  value: Record<string, unknown> | null;
}

export function readJsonLines(text: string): JsonLine[] {
  return text
    .replace(/^\uFEFF/, '')
    .split(/\r?\n/)
    .flatMap((line, i): JsonLine[] => (line.trim() ? [{ line: i + 1, text: line, value: objectOf(line) }] : []));
}

function objectOf(line: string): Record<string, unknown> | null {
  try {
    const value: unknown = JSON.parse(line);
    return typeof value === 'object' && value !== null && !Array.isArray(value)
      ? (value as Record<string, unknown>)
      : null;
  } catch {
    return null;
  }
}

export const writeJsonLines = (lines: readonly string[]): string => lines.map((line) => `${line}\n`).join('');

/** Texts and numbers of an object that others wrote; null for what is none. */
export const textIn = (value: unknown): string | null =>
  typeof value === 'string' ? value.toWellFormed().trim() || null : typeof value === 'number' ? String(value) : null;
export function numberIn(value: unknown): number | null {
  const number = typeof value === 'number' ? value : typeof value === 'string' && value.trim() ? Number(value) : NaN;
  return Number.isFinite(number) ? number : null;
}
