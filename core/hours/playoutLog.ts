/** Logs of what was really on air (docs/formats/playout-log.md), and the report of a month that is made from them. */
import { parse } from 'csv-parse/browser/esm/sync';
import type { Report } from '../exchange/report.ts';
import { linesOf } from '../exchange/text.ts';

export interface LoggedLine {
  /** In the file, from 1. */
  line: number;
  /** When it began, in seconds since 1970. */
  at: number;
  title: string;
  artist: string;
  /** For how long it was on air; null where the log does not say. */
  seconds: number | null;
  playoutId: number | null;
  path: string | null;
}
export interface PlayoutLog {
  lines: LoggedLine[];
  problems: { line: number; reason: string }[];
}

const NAMES = {
  time: ['time', 'on air', 'start', 'started'],
  title: ['title'],
  artist: ['artist', 'artists'],
  seconds: ['seconds', 'length'],
  playoutId: ['playout id', 'playoutid', 'id'],
  path: ['path', 'file'],
} as const;
const MAX_LINES = 200_000;

const delimiterOf = (head: string): string =>
  [';', '\t', ','].map((d) => [d, head.split(d).length] as const).reduce((a, b) => (b[1] > a[1] ? b : a))[0];

/** "2026-12-01T19:02:31" or with a blank, in local time; with an offset, at that. */
function momentOf(text: string): number | null {
  const said = text.trim().replace(' ', 'T');
  if (!/^\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d+)?)?(Z|[+-]\d\d:\d\d)?$/.test(said)) return null;
  const at = new Date(said).getTime() / 1000;
  return Number.isFinite(at) ? at : null;
}

/** "252", "252.4", "4:12". */
function secondsOf(text: string): number | null {
  const clock = /^(\d{1,3}):([0-5]\d)$/.exec(text.trim());
  const n = clock ? Number(clock[1]) * 60 + Number(clock[2]) : Number(text.trim().replace(',', '.'));
  return text.trim() !== '' && Number.isFinite(n) && n >= 0 && n <= 86_400 ? n : null;
}

/** Reads a log. @returns a sentence where it is none */
export function readPlayoutLog(text: string): PlayoutLog | string {
  const plain = text.replace(/^\uFEFF/, '');
  const problems: PlayoutLog['problems'] = [];
  const rows = parse(plain, {
    delimiter: delimiterOf(linesOf(plain)[0] ?? ''),
    relax_column_count: true,
    relax_quotes: true,
    skip_empty_lines: true,
    skip_records_with_error: true,
    trim: true,
    info: true,
    to: MAX_LINES + 1,
  }) as unknown as { record: string[]; info: { lines: number } }[];
  const head = (rows[0]?.record ?? []).map((cell) => cell.toLowerCase());
  const at = (name: keyof typeof NAMES): number =>
    head.findIndex((cell) => (NAMES[name] as readonly string[]).includes(cell));
  if (at('time') < 0) return 'The log has no column "time"';
  if (at('title') < 0 && at('playoutId') < 0 && at('path') < 0)
    return 'The log has neither a column "title" nor "playout ID" nor "path"';
  const lines = rows.slice(1).flatMap(({ record, info }): LoggedLine[] => {
    const cell = (name: keyof typeof NAMES): string => record[at(name)] ?? '';
    const moment = momentOf(cell('time'));
    if (moment === null) {
      problems.push({ line: info.lines, reason: `"${cell('time').slice(0, 40)}" is no time` });
      return [];
    }
    const id = Number(cell('playoutId'));
    return [
      {
        line: info.lines,
        at: moment,
        title: cell('title'),
        artist: cell('artist'),
        seconds: secondsOf(cell('seconds')),
        playoutId: Number.isInteger(id) && id > 0 ? id : null,
        path: cell('path') || null,
      },
    ];
  });
  return { lines, problems };
}

/** What was on air in a month, a line per track. */
export interface AirplayLine {
  title: string;
  artist: string;
  composer: string;
  label: string;
  isrc: string;
  times: number;
  /** On air in all. */
  seconds: number;
}

export const airplayReport = (month: string, lines: readonly AirplayLine[]): Report => ({
  name: `Airplay ${month}`,
  note: `${lines.length} tracks, ${lines.reduce((n, l) => n + l.times, 0)} times on air`,
  columns: [
    { name: 'Title' },
    { name: 'Artists' },
    { name: 'Composer' },
    { name: 'Label' },
    { name: 'ISRC' },
    { name: 'Times', figures: true },
    { name: 'Seconds', figures: true },
  ],
  rows: lines.map((l) => [l.title, l.artist, l.composer, l.label, l.isrc, l.times, Math.round(l.seconds)]),
});
