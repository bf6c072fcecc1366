import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { madeUpTracks } from '@early-set/core/hours/madeUp';
import { readClock } from '@early-set/core/hours/readClock';
import { hourCommand, parseHourArguments } from './hourCommand.ts';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'early-set-hour-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** The clock that is described. */
const CLOCK = JSON.parse(/```json\n([\s\S]*?)```/.exec(readFileSync('docs/formats/clock.md', 'utf8'))![1]!) as Record<
  string,
  unknown
>;
const TRACKS = madeUpTracks(400).map(({ title, artist, genre, label, addedAt, year, ...measured }, i) =>
  JSON.stringify({
    file: `music/${i}.flac`,
    ok: true,
    ...measured,
    addedAt,
    tags: { title, artist, genre, label, year },
  }),
);

interface Line {
  hour: number;
  at?: string;
  item?: string;
  file?: string;
  seconds?: number;
  reason?: string;
  landings?: { name: string; off: number }[];
  rules?: { text: string; hard: boolean; state: string }[];
  open?: number;
}

function hour(clock: unknown, lines: readonly string[], ...args: string[]) {
  const [clockFile, tracks] = [join(folder, 'clock.json'), join(folder, 'tracks.jsonl')];
  writeFileSync(clockFile, typeof clock === 'string' ? clock : JSON.stringify(clock));
  writeFileSync(tracks, lines.join('\n'));
  const parsed = parseHourArguments([clockFile, tracks, '--from', '2026-12-01T19:00', ...args]);
  if (typeof parsed === 'string') throw new Error(parsed);
  let said = '',
    complaints = '';
  const code = hourCommand(
    parsed,
    (text) => (complaints += text),
    (text) => (said += text),
  );
  return { code, said, complaints };
}
const linesOf = (said: string): Line[] =>
  said
    .split('\n')
    .filter(Boolean)
    .map((l) => JSON.parse(l) as Line);

describe('early-set hour', () => {
  test('the described clock is one', () => {
    expect(typeof readClock(CLOCK)).toBe('object');
  });
  test('prints each item with its time on air, and of each hour how it lands and what rules it keeps', () => {
    const { code, said, complaints } = hour(CLOCK, TRACKS, '--hours', '3', '--jsonl');
    expect([code, complaints]).toEqual([0, '']);
    const lines = linesOf(said);
    expect(lines[0]).toMatchObject({ hour: 0, at: '2026-12-01T19:00:00.000', item: 'spoken', seconds: 120 });
    const wholes = lines.filter((l) => l.landings);
    expect(wholes.map((w) => [w.hour, w.open])).toEqual([
      [0, 0],
      [1, 0],
      [2, 0],
    ]);
    for (const { landings, rules } of wholes) {
      expect(landings!.map((l) => l.name)).toEqual(['Headlines', 'end of the hour']);
      for (const { off } of landings!) expect(Math.abs(off)).toBeLessThanOrEqual(1);
      expect(rules!.filter((r) => r.hard).map((r) => r.state)).toEqual(['kept']);
    }
    const tracks = lines.filter((l) => l.item === 'track');
    expect(tracks.length).toBeGreaterThan(30);
    for (const { file } of tracks) expect(file).toMatch(/^music\/\d+\.flac$/);
    // The same again gives the same; another seed gives another.
    expect(hour(CLOCK, TRACKS, '--hours', '3', '--jsonl').said).toBe(said);
    expect(hour(CLOCK, TRACKS, '--hours', '3', '--jsonl', '--seed', '2').said).not.toBe(said);
  });
  test('what cannot be filled stays open with its reason, lines that are no track are named: 1', () => {
    const { code, said, complaints } = hour(CLOCK, ['nonsense', TRACKS[0]!, '{"ok":false,"error":"broken"}']);
    expect(code).toBe(1);
    expect(complaints).toMatch(/line 1 is left out: this is not JSON\n.*line 3 is left out: broken/);
    expect(said).toMatch(/open: /);
    expect(said).toMatch(/Same artist not within 90 min: kept/);
  });
  test.each([
    ['{"version":1}', /clock\.json: .*name/],
    ['[', /clock\.json: /],
  ])('a clock that is none: %s', (clock, said) => {
    const { code, complaints } = hour(clock, TRACKS);
    expect([code, complaints]).toEqual([2, expect.stringMatching(said)]);
  });
  test.each([
    [['c', 't'], /--from/],
    [['c', 't', '--from', '2026-12-01'], /--from/],
    [['c', '--from', '2026-12-01T19:00'], /have to be named/],
    [['c', 't', '--from', '2026-12-01T19:00', '--hours', '0'], /--hours/],
    [['c', 't', '--from', '2026-12-01T19:00', '--seed', 'x'], /--seed/],
  ])('called wrongly: %j', (args, said) => {
    expect(parseHourArguments(args)).toMatch(said);
  });
});
