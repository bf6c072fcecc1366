/** A list as a page to print or send. */
import { clockLength } from '../../clock/clock.ts';
import { lineWriter } from '../line.ts';
import type { ListedTrack, WriteOptions } from '../listFile.ts';
import { escapeXml } from '../text.ts';

const STYLE = `body{font:14px/1.5 system-ui,sans-serif;margin:2em;color:#0f2a33}h1{font-size:20px}
table{border-collapse:collapse;width:100%}td,th{border-bottom:1px solid #d0dadd;padding:4px 8px;text-align:left}
td:first-child,td:last-child{text-align:right;font-variant-numeric:tabular-nums;white-space:nowrap}`;

export function writeHtml(tracks: readonly ListedTrack[], options: WriteOptions): string {
  const line = lineWriter(options.line);
  const rows = tracks.map((track, i) => {
    const length = track.durationSeconds === null ? '' : clockLength(track.durationSeconds);
    const cells = [String(i + 1), line(track), track.album, length];
    return `<tr>${cells.map((cell) => `<td>${escapeXml(cell)}</td>`).join('')}</tr>`;
  });
  const name = escapeXml(options.name);
  return [
    '<!doctype html>',
    `<html lang="en"><head><meta charset="utf-8"><title>${name}</title><style>${STYLE}</style></head>`,
    `<body><h1>${name}</h1>`,
    '<table><thead><tr><th>No.</th><th>Track</th><th>Album</th><th>Length</th></tr></thead>',
    `<tbody>${rows.join('\n')}</tbody></table></body></html>`,
    '',
  ].join('\n');
}
