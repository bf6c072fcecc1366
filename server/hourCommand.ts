/** `early-set hour`: fills hours of radio from a format clock and measured tracks, without a database. */
import { readFileSync } from 'node:fs';
import { format } from 'date-fns';
import { aliasNames, airable, type Airable } from '@early-set/core/hours/airing';
import { clockLength } from '@early-set/core/clock/clock';
import type { FormatClock } from '@early-set/core/hours/clock';
import { fillHours, judgeHours } from '@early-set/core/hours/day';
import type { FilledHour } from '@early-set/core/hours/fill';
import type { HourItem, Judgement } from '@early-set/core/hours/judge';
import { readWeek } from '@early-set/core/hours/readClock';
import { clockAt, type ClockWeek } from '@early-set/core/hours/week';
import { readArguments } from './commandLine.ts';
import { reasonOf } from './files/reasons.ts';
import { readMeasured, type MeasuredLine } from './measuredLines.ts';

export const HOUR_HELP = `early-set hour CLOCK.json TRACKS.jsonl --from TIME [--hours N] [--seed N] [--jsonl]

Fills hours of radio. CLOCK.json is a format clock, or clocks by weekdays and times
(docs/formats/clock.md); hours without one stay empty. TRACKS.jsonl holds the lines
of "early-set measure FILE… --jsonl --tags", a track each; - reads them from standard input. Needs no
database.

  --from TIME  the beginning of the first hour, local time: 2026-12-01T19:00
  --hours N    so many hours, one after the other; 1 where it is left out
  --seed N     another number gives other hours
  --jsonl      one JSON object per item, then one per hour

Fields of an item's line: hour, at (local time on air), item (spoken, link, jingle, track, open), name,
seconds (on air), file and intro of a track, reason of an open place.
Fields of an hour's line: hour, landings (fixed times and the end: at, name, off in seconds, late above 0),
rules (text, hard, state: kept, broken, open; where: items at which it is broken, from 0), open (places).

Lines that are no measured track are left out and named. The exit code is 0 when every hour is filled, 1
when a place stays open or lines were left out, 2 when it was called wrongly.
`;

interface HourArguments {
  clock: string;
  tracks: string;
  from: Date;
  hours: number;
  seed: number;
  jsonl: boolean;
}

export function parseHourArguments(args: readonly string[]): HourArguments | string {
  const read = readArguments(args, {
    from: { type: 'string' },
    hours: { type: 'string', default: '1' },
    seed: { type: 'string', default: '1' },
    jsonl: { type: 'boolean', default: false },
  });
  if (typeof read === 'string') return read;
  const { from, jsonl } = read.values;
  const [hours, seed] = [Number(read.values.hours), Number(read.values.seed)];
  const begins = /^\d{4}-\d\d-\d\dT\d\d:\d\d$/.test(from ?? '') ? new Date(from!) : null;
  if (!begins || Number.isNaN(begins.getTime())) return '--from takes a local time such as 2026-12-01T19:00';
  if (!Number.isInteger(hours) || hours < 1 || hours > 24 * 366) return '--hours takes a number from 1';
  if (!Number.isInteger(seed)) return '--seed takes a whole number';
  const [clock, tracks] = read.positionals;
  if (clock === undefined || tracks === undefined || read.positionals.length !== 2)
    return 'A clock and a file of tracks have to be named';
  return { clock, tracks, from: begins, hours, seed, jsonl };
}

type Say = (text: string) => void;

/** Does it; returns the exit code. */
export function hourCommand(wish: HourArguments, complain: Say, say: Say): number {
  let week: ClockWeek | string, lines: MeasuredLine[];
  try {
    week = readWeek(JSON.parse(readFileSync(wish.clock, 'utf8')));
  } catch (error) {
    week = reasonOf(error);
  }
  if (typeof week === 'string') {
    complain(`${wish.clock}: ${week}\n`);
    return 2;
  }
  try {
    lines = readMeasured(wish.tracks);
  } catch (error) {
    complain(`${wish.tracks}: ${reasonOf(error)}\n`);
    return 2;
  }
  const all: ClockWeek = week;
  const alias = aliasNames(all.clocks.flatMap((c) => c.aliases ?? []));
  let leftOut = 0;
  const files: string[] = [];
  const tracks = lines.flatMap((line): Airable[] => {
    const made = 'values' in line ? airable(files.length, line.values, alias) : null;
    if (made && 'values' in line) {
      files.push(line.file);
      return [made];
    }
    leftOut++;
    const why = 'reason' in line ? line.reason : 'it has no length';
    complain(`${wish.tracks}, line ${line.index + 1} is left out: ${why}\n`);
    return [];
  });
  const begins = Array.from({ length: wish.hours }, (_, i) => wish.from.getTime() / 1000 + i * 3600);
  const clockOf = (hourAt: number): FormatClock | null => clockAt(all, hourAt);
  const filled = fillHours({ hours: begins, clockOf, tracks, seed: wish.seed });
  const judged = judgeHours(begins, clockOf, filled);
  for (const [i, hour] of filled.entries())
    if (wish.jsonl) sayLines(say, i, hour, judged[i]!, files);
    else sayTable(say, hour, judged[i]!);
  return leftOut > 0 || filled.some((h) => h.items.some((item) => item.kind === 'open')) ? 1 : 0;
}

const timeOf = (at: number, pattern: string): string => format(new Date(at * 1000), pattern);
const rounded = (n: number): number => Math.round(n * 1000) / 1000;

function sayLines(say: Say, hour: number, { items, landings }: FilledHour, rules: Judgement[], files: string[]): void {
  for (const item of items)
    say(
      `${JSON.stringify({
        hour,
        at: timeOf(item.at, "yyyy-MM-dd'T'HH:mm:ss.SSS"),
        item: item.kind,
        name: item.name,
        seconds: rounded(item.seconds),
        ...(item.kind === 'track' ? { file: files[item.track.id], intro: rounded(item.track.air.intro) } : {}),
        ...(item.kind === 'open' ? { reason: item.reason } : {}),
      })}\n`,
    );
  say(
    `${JSON.stringify({
      hour,
      landings,
      rules: rules.map(({ rule, text, state, where }) => ({ text, hard: rule.hard, state, where })),
      open: items.filter((i) => i.kind === 'open').length,
    })}\n`,
  );
}

const whatOf = (item: HourItem): string => {
  if (item.kind === 'open') return `open: ${item.reason}`;
  if (item.kind !== 'track') return item.name;
  const { artist, title } = item.track.values;
  return [Array.isArray(artist) ? artist.join('; ') : artist, title].filter(Boolean).join(' - ') || item.name;
};

function sayTable(say: Say, { items, landings }: FilledHour, rules: Judgement[]): void {
  for (const item of items)
    say(
      `${timeOf(item.at, 'yyyy-MM-dd HH:mm:ss')}  ${item.kind.padEnd(6)}  ${clockLength(item.seconds).padStart(6)}  ${whatOf(item)}\n`,
    );
  for (const { name, at, off } of landings)
    say(
      `${name}: ${off === 0 ? 'on time' : `${Math.abs(off).toFixed(1)} s ${off > 0 ? 'late' : 'early'}`} (${clockLength(at)})\n`,
    );
  for (const { text, state } of rules) say(`${text}: ${state}\n`);
  say('\n');
}
