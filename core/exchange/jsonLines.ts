/** JSON Lines: one object a line. What is no object is reported and left as it is. */

export interface JsonLine {
  /** From 1. */
  line: number;
  text: string;
  /** Null where the line cannot be read. */
  value: Record<string, unknown> | null;
}

export const readJsonLines = (text: string): JsonLine[] => [...jsonLines(text)];

/** One by one: of a large file not all objects are held at once. */
export function* jsonLines(text: string): Generator<JsonLine> {
  let line = 0;
  for (let from = text.startsWith('\uFEFF') ? 1 : 0; from < text.length;) {
    const end = text.indexOf('\n', from),
      to = end < 0 ? text.length : end;
    const own = text.slice(from, text[to - 1] === '\r' && to > from ? to - 1 : to);
    line++;
    from = to + 1;
    if (own.trim()) yield { line, text: own, value: objectOf(own) };
  }
}

export function objectOf(line: string): Record<string, unknown> | null {
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
