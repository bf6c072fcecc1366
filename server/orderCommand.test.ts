import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { orderCommand, parseOrderArguments } from './orderCommand.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-order-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const track = (file: string, bpm: number, key: string, energy: number, artist = file) =>
  JSON.stringify({ file, ok: true, bpm, key, energy, tags: { artist } });
const SET = [
  track('a.mp3', 126, 'A minor', 80),
  track('b.mp3', 120, 'A minor', 40),
  track('c.mp3', 123, 'E minor', 60),
  track('d.mp3', 124, 'C major', 70),
];

/** A line of the answer: a place, or the whole. */
interface Printed {
  place?: number;
  index?: number;
  file?: string;
  transition?: { grade: string; reasons: string[]; cost: number } | null;
  shapeCost?: number;
  orderCost?: number;
  givenCost?: number;
  hard?: number;
  tracks?: number;
  leftOut?: number;
}

function order(lines: string[], ...args: string[]) {
  const file = join(folder, 'tracks.jsonl');
  writeFileSync(file, lines.join('\n'));
  const parsed = parseOrderArguments([file, '--jsonl', ...args]);
  if (typeof parsed === 'string') throw new Error(parsed);
  let said = '',
    complaints = '';
  const code = orderCommand(
    parsed,
    (text) => (said += text),
    (text) => (complaints += text),
  );
  const out = said
    .split('\n')
    .filter(Boolean)
    .map((l) => JSON.parse(l) as Printed);
  return { code, places: out.slice(0, -1), whole: out.at(-1)!, complaints };
}
const files = (places: Printed[]): string[] => places.map((p) => p.file!);

describe('early-set order', () => {
  test('prints the order, each transition with its judgement, and what it all costs', () => {
    const { code, places, whole } = order(SET, '--shape', 'rising');
    expect(code).toBe(0);
    expect(files(places)).toEqual(['b.mp3', 'c.mp3', 'd.mp3', 'a.mp3']);
    expect(places.map((p) => p.index)).toEqual([1, 2, 3, 0]);
    expect(places[0]).toMatchObject({ place: 0, transition: null });
    expect(places[1]!.transition).toMatchObject({ grade: 'fair', reasons: ['1 fifth apart', '+2.5 % tempo'] });
    expect(whole).toMatchObject({ tracks: 4, leftOut: 0, hard: 0 });
    expect(Number(whole.orderCost)).toBeLessThan(Number(whole.givenCost));
    const sum = places.reduce((s, p) => s + (p.transition?.cost ?? 0) + p.shapeCost!, 0);
    expect(sum).toBeCloseTo(Number(whole.orderCost), 1);
  });
  test('pinned lines keep their places', () => {
    const { places } = order(SET, '--shape', 'rising', '--pin', '0', '--pin', '3');
    expect([places[0]!.file, places[3]!.file]).toEqual(['a.mp3', 'd.mp3']);
  });
  test('what is no measured track is named and left out; the rest goes on', () => {
    const { code, places, whole, complaints } = order([
      `\uFEFF${SET[0]!}`,
      'not json\r',
      '[1]',
      JSON.stringify({ file: 'x.mp3', ok: false, error: 'The file is not there' }),
      SET[1]!,
      '',
    ]);
    expect([code, whole.leftOut]).toEqual([1, 3]);
    expect(files(places).sort()).toEqual(['a.mp3', 'b.mp3']);
    expect(complaints).toMatch(/line 2 is left out: this is not JSON/);
    expect(complaints).toMatch(/line 3 is left out: this is not a track/);
    expect(complaints).toMatch(/line 4 is left out: The file is not there/);
  });
  test('an empty file has an empty order; one track has one place', () => {
    expect(order([])).toMatchObject({ code: 0, places: [], whole: { orderCost: 0, tracks: 0 } });
    expect(files(order([SET[2]!]).places)).toEqual(['c.mp3']);
  });
  test.each([
    [[], /One file/],
    [['a', '--pin', 'x'], /--pin takes/],
    [['a', '--pin', '-1'], /takes a value|--pin takes/],
    [['a', '--shape', 'round'], /There is no shape/],
    [['a', '--what'], /There is no option/],
  ])('called wrongly (%j), it says how', (args, sentence) => {
    expect(parseOrderArguments(args)).toMatch(sentence);
  });
  test('a line that is not there cannot be pinned, and a file that is not there is said', () => {
    expect(order(SET, '--pin', '9')).toMatchObject({ code: 2, complaints: expect.stringMatching(/line 9/) });
    const said: string[] = [];
    const gone = { file: join(folder, 'gone.jsonl'), pins: [], shape: null, jsonl: true };
    expect(
      orderCommand(
        gone,
        () => undefined,
        (t) => said.push(t),
      ),
    ).toBe(2);
    expect(said.join('')).toMatch(/gone\.jsonl/);
  });
});
