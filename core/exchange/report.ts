/** Tables for people: a page to print or send, text in columns, CSV. */
import { stringify } from 'csv-stringify/browser/esm/sync';
import { escapeXml, oneLine } from './text.ts';

export interface ReportColumn {
  name: string;
  /** Figures stand right-aligned. */
  figures?: boolean;
}
export interface Report {
  name: string;
  /** What is said above the table. */
  note: string;
  columns: readonly ReportColumn[];
  /** A cell per column; numbers stay numbers where a format has them. */
  rows: readonly (readonly (string | number)[])[];
}

const STYLE = `body{font:13px/1.45 system-ui,sans-serif;margin:2em;color:#0f2a33}h1{font-size:20px;margin:0}
p{margin:.2em 0 1em}table{border-collapse:collapse;width:100%}td,th{border-bottom:1px solid #d0dadd;padding:3px 8px;
text-align:left;vertical-align:top}.n{text-align:right;font-variant-numeric:tabular-nums;white-space:nowrap}
thead{display:table-header-group}tr{break-inside:avoid}@media print{body{margin:0}}`;

/** A whole page (HTML 5), which prints with its head on every sheet. */
export function writeReportHtml({ name, note, columns, rows }: Report): string {
  const row = (cells: readonly (string | number)[], tag: 'td' | 'th'): string =>
    `<tr>${cells
      .map((cell, i) => `<${tag}${columns[i]?.figures ? ' class="n"' : ''}>${escapeXml(String(cell))}</${tag}>`)
      .join('')}</tr>`;
  const head = row(
    columns.map((c) => c.name),
    'th',
  );
  return [
    '<!doctype html>',
    `<html lang="en"><head><meta charset="utf-8"><title>${escapeXml(name)}</title><style>${STYLE}</style></head>`,
    `<body><h1>${escapeXml(name)}</h1><p>${escapeXml(note)}</p>`,
    `<table><thead>${head}</thead>`,
    `<tbody>${rows.map((cells) => row(cells, 'td')).join('\n')}</tbody></table></body></html>`,
    '',
  ].join('\n');
}

/** Columns as wide as what is in them. */
export function writeReportText({ name, note, columns, rows }: Report): string {
  const lines = [columns.map((c) => c.name), ...rows.map((cells) => cells.map((c) => oneLine(String(c))))];
  const widths = columns.map((_, i) => Math.max(...lines.map((cells) => [...(cells[i] ?? '')].length)));
  const padded = (cell: string, i: number): string => {
    const blanks = ' '.repeat(widths[i]! - [...cell].length);
    return columns[i]!.figures ? blanks + cell : cell + blanks;
  };
  return [name, note, '', ...lines.map((cells) => cells.map(padded).join('  ').trimEnd()), ''].join('\n');
}

/** RFC 4180; cells that a spreadsheet would take for a formula get an apostrophe in front. */
export const writeReportCsv = ({ columns, rows }: Report): string =>
  stringify(
    [columns.map((c) => c.name), ...rows.map((cells) => cells.map((c) => (typeof c === 'string' ? oneLine(c) : c)))],
    {
      record_delimiter: '\r\n',
      escape_formulas: true,
    },
  );
