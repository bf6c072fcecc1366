/** The running order of an hour, for whoever is at the microphone. */
import { format } from 'date-fns';
import { clockLength } from '../clock/clock.ts';
import type { Report } from '../exchange/report.ts';
import type { HourContents, HourLine } from './contents.ts';

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

const time = (at: number): string => format(new Date(Math.round(at) * 1000), 'HH:mm:ss');

/** How it ends: of what is spoken its last words, of a track where and how. */
function outOf({ out, ends }: HourLine): string {
  if (out) return `“… ${out}”`;
  return ends ? `${ends.by} at ${clockLength(ends.at)}` : '';
}

function notesOf(line: HourLine, hourAt: number): string {
  const { fixed, overIntro, bed, remark, kind, reason } = line;
  return [
    fixed && `${fixed.when === 'exact' ? 'exactly at' : 'not before'} ${time(hourAt + fixed.at)}`,
    overIntro && `last ${clockLength(overIntro)} over the intro`,
    bed && `bed: ${bed}`,
    kind === 'open' && reason,
    remark,
  ]
    .filter(Boolean)
    .join('; ');
}

const KINDS: Record<HourLine['kind'], string> = {
  spoken: 'spoken',
  link: 'link',
  jingle: 'jingle',
  track: 'track',
  open: 'open slot',
  note: 'note',
};

export function runningOrder({ info, lines, seconds, off }: HourContents): Report {
  const begins = info.onAirAt!;
  const landing = Math.abs(off) < 0.5 ? 'on time' : `${clockLength(Math.abs(off))} ${off > 0 ? 'over' : 'under'}`;
  return {
    name: info.name,
    note: `${format(new Date(begins * 1000), 'EEEE d MMMM yyyy')}, ${time(begins)} to ${time(begins + seconds)}, ${landing}`,
    columns: COLUMNS,
    rows: lines.map((line) => [
      line.kind === 'note' ? '' : time(line.at),
      KINDS[line.kind],
      line.name,
      line.artist,
      line.intro === null ? '' : clockLength(line.intro),
      line.kind === 'note' ? '' : clockLength(line.seconds),
      outOf(line),
      notesOf(line, begins),
    ]),
  };
}
