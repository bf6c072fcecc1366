/** `early-set order`: puts measured tracks in order without a database. */
import {
  costTable,
  DEFAULT_WEIGHTS,
  orderCost,
  orderFigures,
  pairCost,
  shapeCost,
  type Orderable,
  type OrderWish,
} from '@early-set/core/arrange/order';
import { readShape, SHAPES } from '@early-set/core/arrange/shape';
import { smooth } from '@early-set/core/arrange/smooth';
import { transition } from '@early-set/core/arrange/transition';
import type { TrackValues } from '@early-set/core/fields/values';
import { readArguments } from './commandLine.ts';
import { reasonOf } from './files/reasons.ts';
import { readMeasured, type MeasuredLine } from './measuredLines.ts';

export const ORDER_HELP = `early-set order TRACKS.jsonl [--pin INDEX]… [--shape SHAPE] [--jsonl]

Puts tracks in the order that costs least (docs/ARRANGING.md) and prints it. TRACKS.jsonl holds the
lines of "early-set measure FILE… --jsonl --tags", a track each; - reads them from standard input.
Needs no database.

  --pin INDEX    the track of that line stays at its place (lines are counted from 0); may be repeated
  --shape SHAPE  wished shape of the energy: ${SHAPES.map((s) => (s.includes(' ') ? `"${s}"` : s)).join(', ')};
                 or points such as "0 30, 0.6 85, 1 50" (share of the set, energy)
  --jsonl        one JSON object per place, then one for the whole

Fields of a line:
  place, index   where it comes, and the line it was, both from 0
  file           as it was given
  transition     from the track before: grade (good, fair, uneven, hard), reasons, cost; null at the top
  shapeCost      what its distance from the wished shape costs
The last line: orderCost, givenCost (of the order given), hard (transitions), offShape, tracks, leftOut.

Lines that are no measured track are left out and named. The exit code is 0 when all were put in order,
1 when some were left out, 2 when it was called wrongly.
`;

interface OrderArguments {
  file: string;
  pins: number[];
  shape: string | null;
  jsonl: boolean;
}

export function parseOrderArguments(args: readonly string[]): OrderArguments | string {
  const read = readArguments(args, {
    pin: { type: 'string', multiple: true },
    shape: { type: 'string' },
    jsonl: { type: 'boolean', default: false },
  });
  if (typeof read === 'string') return read;
  const { pin = [], shape = null, jsonl } = read.values;
  const pins = pin.map(Number);
  if (pins.some((p) => !Number.isInteger(p) || p < 0)) return '--pin takes the number of a line, from 0';
  if (shape !== null && !readShape(shape)) return `There is no shape "${shape}"`;
  if (read.positionals.length !== 1) return 'One file of tracks has to be named';
  return { file: read.positionals[0]!, pins, shape, jsonl };
}

interface Listed extends Orderable {
  index: number;
  file: string;
  values: TrackValues;
}

/** Does it; returns the exit code. */
export function orderCommand(
  { file, pins, shape, jsonl }: OrderArguments,
  say: (text: string) => void,
  complain: (text: string) => void,
): number {
  let lines: MeasuredLine[];
  try {
    lines = readMeasured(file);
  } catch (error) {
    complain(`${file}: ${reasonOf(error)}\n`);
    return 2;
  }
  const tracks: Listed[] = [];
  for (const line of lines)
    if ('reason' in line) complain(`${file}, line ${line.index + 1} is left out: ${line.reason}\n`);
    else tracks.push(line);
  const wish: OrderWish = { weights: DEFAULT_WEIGHTS, shape: shape === null ? null : readShape(shape) };
  const unknown = pins.filter((p) => !tracks.some((t) => t.index === p));
  if (unknown.length > 0) {
    complain(`There is no track at line ${unknown.join(', ')} to be pinned\n`);
    return 2;
  }
  const pinned = new Set(tracks.flatMap((t, at) => (pins.includes(t.index) ? [at] : [])));
  const order = smooth(costTable(tracks, wish), { pinned }).map((i) => tracks[i]!);
  for (const [place, track] of order.entries()) {
    const before = order[place - 1];
    const way = before && transition(before.values, track.values);
    const line = {
      place,
      index: track.index,
      file: track.file,
      transition:
        before && way
          ? { grade: way.grade, reasons: way.reasons, cost: rounded(pairCost(before, track, wish.weights)) }
          : null,
      shapeCost: rounded(shapeCost(track, place, order.length, wish)),
    };
    say(jsonl ? `${JSON.stringify(line)}\n` : inWords(line));
  }
  const { hard, offShape } = orderFigures(order, wish.shape);
  const whole = {
    orderCost: rounded(orderCost(order, wish)),
    givenCost: rounded(orderCost(tracks, wish)),
    hard,
    offShape: offShape === null ? null : rounded(offShape),
    tracks: tracks.length,
    leftOut: lines.length - tracks.length,
  };
  say(
    jsonl
      ? `${JSON.stringify(whole)}\n`
      : `\ncost ${whole.givenCost} → ${whole.orderCost}, hard transitions: ${hard}\n`,
  );
  return whole.leftOut > 0 ? 1 : 0;
}

const rounded = (value: number): number => Number(value.toFixed(2));

interface Line {
  place: number;
  file: string;
  transition: { grade: string; reasons: readonly string[] } | null;
}

const inWords = ({ place, file, transition: way }: Line): string =>
  `${way ? `       ${way.grade}: ${way.reasons.join(', ')}\n` : ''}${String(place + 1).padStart(4)}   ${file}\n`;
