/** The running order of an hour, for whoever is at the microphone. */
import { format } from 'date-fns';
import { clockLength } from '../clock/clock.ts';
import type { Report } from '../exchange/report.ts';
import type { HourContents, HourLine } from './contents.ts';
import { fixedInWords, KIND_NAMES, overOrUnder, timeOnAir } from './words.ts';

const COLUMNS: Report['columns'] = [
  { name: 'On air', figures: true },
  { name: 'Kind' },
  { name: 'Title' },
  { name: 'Artist' },
  { name: 'Intro', figures: true },
  { name: 'Length', figures: true },
  { name: 'Out' },
  { name: 'Notes' },
];

/** How it ends: of what is spoken its last words, of a track where and how. */
function outOf({ out, ends }: HourLine): string {
  if (out) return `“… ${out}”`;
  return ends ? `${ends.by} at ${clockLength(ends.at)}` : '';
}

function notesOf(line: HourLine, hourAt: number): string {
  const { fixed, overIntro, bed, file, remark, kind, reason } = line;
  return [
    fixedInWords(fixed, hourAt),
    overIntro && `last ${clockLength(overIntro)} over the intro`,
    bed && `bed: ${bed}`,
    file && `file: ${file}`,
    kind === 'open' && reason,
    remark,
  ]
    .filter(Boolean)
    .join('; ');
}

export function runningOrder({ info, lines, seconds, off }: HourContents): Report {
  const begins = info.onAirAt!;
  return {
    name: info.name,
    note: `${format(new Date(begins * 1000), 'EEEE d MMMM yyyy')}, ${timeOnAir(begins)} to ${timeOnAir(begins + seconds)}, ${overOrUnder(off)}`,
    columns: COLUMNS,
    rows: lines.map((line) => [
      line.kind === 'note' ? '' : timeOnAir(line.at),
      KIND_NAMES[line.kind],
      line.name,
      line.artist,
      line.intro === null ? '' : clockLength(line.intro),
      line.kind === 'note' ? '' : clockLength(line.seconds),
      outOf(line),
      notesOf(line, begins),
    ]),
  };
}
