/**
 * Files broken by chance: bytes changed, cut off, doubled, put in, lengths made too large. They are read and written,
 * or refused in words, in reasonable time; what was written says what was wanted, and is taken back byte for byte.
 */
import { expect, test } from '@jest/globals';
import { FILES, NAMES } from '../testing/tagSamples.ts';
import { sourceOf, spliced, inverseSplices, TagTrouble } from './bytes.ts';
import { editTags, fieldsIn, openTags, pictureIn } from './edit.ts';

const MUTANTS = Number(process.env.EARLY_SET_MUTANTS ?? 1000);
/** One that takes longer has been led in circles. */
const MAX_MS = 2000;

/** Numbers that are the same in every run (mulberry32). */
function numbers(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return Math.floor((((t ^ (t >>> 14)) >>> 0) / 2 ** 32) * below);
  };
}

const MUTATIONS: ((bytes: Uint8Array, pick: (below: number) => number) => Uint8Array)[] = [
  (b, pick) => {
    const out = b.slice();
    for (let n = 1 + pick(8); n > 0; n--) out[pick(out.length)] = pick(256);
    return out;
  },
  (b, pick) => b.slice(0, pick(b.length)),
  (b, pick) => {
    const from = pick(b.length),
      piece = b.slice(from, from + 1 + pick(200)),
      at = pick(b.length);
    return Uint8Array.from([...b.subarray(0, at), ...piece, ...b.subarray(at)]);
  },
  (b, pick) => {
    const at = pick(b.length);
    return Uint8Array.from([...b.subarray(0, at), ...b.subarray(Math.min(b.length, at + 1 + pick(60)))]);
  },
  // Lengths stand in four bytes near the beginning of things.
  (b, pick) => {
    const out = b.slice(),
      at = pick(Math.min(out.length - 4, 400));
    out.set(
      [
        [0xff, 0xff, 0xff, 0xff],
        [0x7f, 0x7f, 0x7f, 0x7f],
        [0, 0, 0, 0],
        [0, 0, 0, 1],
      ][pick(4)]!,
      at,
    );
    return out;
  },
];

test(`${MUTANTS.toLocaleString('en-GB')} broken files: read, written and taken back, or refused in words`, () => {
  const pick = numbers(20_31);
  let written = 0,
    refused = 0;
  for (let n = 0; n < MUTANTS; n++) {
    const name = NAMES[n % NAMES.length]!;
    let bytes = FILES[name]!;
    for (let times = 1 + pick(3); times > 0; times--)
      if (bytes.length > 8) bytes = MUTATIONS[pick(MUTATIONS.length)]!(bytes, pick);
    const began = performance.now(),
      title = [`Mutant ${n}`.padEnd(pick(300), '.')];
    try {
      const container = openTags(sourceOf(bytes));
      fieldsIn(container);
      pictureIn(container);
      const splices = editTags(sourceOf(bytes), { fields: { title } });
      const made = spliced(bytes, splices);
      expect([name, n, fieldsIn(openTags(sourceOf(made))).title]).toEqual([name, n, title]);
      const back = spliced(made, inverseSplices(sourceOf(bytes), splices));
      expect([name, n, Buffer.from(back).equals(Buffer.from(bytes))]).toEqual([name, n, true]);
      written++;
    } catch (error) {
      if (!(error instanceof TagTrouble)) throw error;
      expect(error.message).toMatch(/^\S.*[^.]$/);
      refused++;
    }
    expect([name, n, performance.now() - began < MAX_MS]).toEqual([name, n, true]);
  }
  expect(written + refused).toBe(MUTANTS);
  expect(written).toBeGreaterThan(MUTANTS / 10);
});
