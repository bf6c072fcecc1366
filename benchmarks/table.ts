/** Prints rows as an aligned table. */
export function table(head: string[], rows: (string | number)[][]): void {
  const cells = [head, ...rows.map((r) => r.map(String))];
  const widths = head.map((_, c) => Math.max(...cells.map((r) => (r[c] ?? '').length)));
  const line = (r: string[]): string =>
    r.map((cell, c) => (c === 0 ? cell.padEnd(widths[c]!) : cell.padStart(widths[c]!))).join('  ');
  console.log([line(cells[0]!), widths.map((w) => '-'.repeat(w)).join('  '), ...cells.slice(1).map(line)].join('\n'));
  console.log();
}

/** The p-quantile of measurements. */
export const percentile = (values: number[], p: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(values.length * p))]!;

/** Share as "93 %". */
export const percent = (part: number, whole: number): string =>
  whole ? `${((100 * part) / whole).toFixed(0)} %` : '–';
