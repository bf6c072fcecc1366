/** Tables of programs as CSV, whose own columns stay. */
import { parse } from 'csv-parse/browser/esm/sync';
import { stringify } from 'csv-stringify/browser/esm/sync';
import type { Collection } from './collection.ts';

/** Texts by column. */
export type Row = Record<string, string>;

/**
 * @param name of the file, for what is said of it
 * @param wanted columns that there are in any case
 */
export function readCsv(
  text: string,
  name: string,
  wanted: readonly string[],
): { columns: string[]; rows: Row[]; problems: Collection['problems'] } {
  const problems: Collection['problems'] = [];
  const cells = parse(text.replace(/^\uFEFF/, ''), {
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: true,
    skip_records_with_error: true,
    on_skip: (error: (Error & { lines?: number }) | undefined) => {
      if (error) problems.push({ where: `${name}, line ${error.lines ?? '?'}`, reason: 'its quotes do not add up' });
      return undefined;
    },
  }) as string[][];
  const [head = [...wanted], ...lines] = cells;
  for (const [i, line] of lines.entries())
    if (line.length > head.length) problems.push({ where: `${name}, line ${i + 2}`, reason: 'it has too many cells' });
  const columns = [...head, ...wanted.filter((c) => !head.includes(c))];
  const rows = lines.map((line) => Object.fromEntries(columns.map((column, i) => [column, line[i] ?? ''])));
  return { columns, rows, problems };
}

export const writeCsv = (columns: readonly string[], rows: readonly Row[]): string =>
  stringify([[...columns], ...rows.map((row) => columns.map((c) => row[c] ?? ''))], { record_delimiter: '\n' });
