import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../signal/random.ts';
import type { FileFacts } from './facts.ts';
import { findAgain, judgeFile } from './findAgain.ts';
import { sharedTail } from './likePath.ts';
import { shiftMarks } from './shiftMarks.ts';
import { soundIndex } from './soundIndex.ts';

const file = (path: string, more: Partial<FileFacts> = {}): FileFacts => ({
  path,
  size: 5_000_000,
  audioHash: null,
  durationSeconds: 200,
  artist: '',
  title: '',
  version: '',
  fingerprint: null,
  ...more,
});
const print = (seed: number, words = 900): Uint32Array => {
  const random = seeded(seed);
  return Uint32Array.from({ length: words }, () => Math.floor(random() * 2 ** 32));
};
/** Some bits of each word wrong, as after encoding anew, and begun later. */
const worn = (words: Uint32Array, share: number, later = 0): Uint32Array => {
  const random = seeded(words[0]!);
  return words.slice(later).map((word) => {
    let wrong = 0;
    for (let bit = 0; bit < 32; bit++) if (random() < share) wrong |= 1 << bit;
    return (word ^ wrong) >>> 0;
  });
};
const found = (lost: FileFacts, ...files: FileFacts[]) => {
  const [answer] = findAgain([lost], files);
  return answer!.found && { at: answer!.found.at, by: answer!.found.by };
};

describe('one file is found again', () => {
  test('by its sound, byte for byte, whatever its name and tags', () => {
    const lost = file('In/a.mp3', { audioHash: 'x', title: 'A' });
    expect(found(lost, file('In/a.mp3', { audioHash: 'y' }), file('Out/b.mp3', { audioHash: 'x', size: 1 }))).toEqual({
      at: 1,
      by: 'same sound, byte for byte',
    });
  });
  test('by name and size, but not where its sound is known to be another', () => {
    const lost = file('In/a.mp3');
    expect(found(lost, file('Out/A.MP3'))).toEqual({ at: 0, by: 'name and size' });
    expect(found(lost, file('Out/a.mp3', { size: 4, durationSeconds: 90 }))).toBeNull();
    const hashed = { ...lost, audioHash: 'x', fingerprint: print(1) };
    expect(found(hashed, file('Out/a.mp3', { audioHash: 'y', fingerprint: print(2) }))).toBeNull();
  });
  test('encoded anew under another name it is found by what it sounds like, and where it begins is said', () => {
    const lost = file('In/a.flac', { audioHash: 'x', fingerprint: print(1) });
    const others = Array.from({ length: 30 }, (_, i) => file(`Out/${i}.mp3`, { fingerprint: print(i + 2) }));
    const same = file('Out/same.mp3', { audioHash: 'y', fingerprint: worn(print(1), 0.05, 16), durationSeconds: 198 });
    const [answer] = findAgain([lost], [...others, same]);
    expect(answer!.found).toMatchObject({ at: 30, by: 'sound' });
    expect(answer!.found!.offsetSeconds).toBeCloseTo(-1.98, 1);
  });
  test('another mix is not it: as far away as mixes are, or as long again', () => {
    const tags = { artist: 'Keel Nine', title: 'Tollgate' };
    const lost = file('In/a.mp3', { ...tags, fingerprint: print(1) });
    const [answer] = findAgain(
      [lost],
      [
        file('Out/a.mp3', { ...tags, size: 1, fingerprint: worn(print(1), 0.2) }),
        file('Out/b.mp3', { ...tags, size: 1, fingerprint: worn(print(1), 0.02), durationSeconds: 330 }),
      ],
    );
    expect(answer).toEqual({
      found: null,
      candidates: [],
      others: [
        { at: 0, why: 'another recording' },
        { at: 1, why: 'another length' },
      ],
    });
  });
  test('where nobody has heard them, name and length or tags and length are a proposal', () => {
    const lost = file('In/a.mp3', { title: 'Dry Dock', artist: 'Marrow & Pine' });
    expect(found(lost, file('Out/a.flac', { size: 9, durationSeconds: 200.1 }))?.by).toBe('name and length');
    const tagged = file('Out/z.flac', { size: 9, title: 'dry dock', artist: 'MARROW & PINE' });
    expect(found(lost, tagged)?.by).toBe('tags and length');
    expect(found(lost, { ...tagged, version: 'Dub' })).toBeNull();
    expect(judgeFile(lost, { ...tagged, durationSeconds: 240 })).toEqual({ other: 'another length' });
  });
  test('of two that are it, the one whose folders are more alike is proposed, and the other shown', () => {
    const lost = file('D:/Music/Soul/a.mp3', { audioHash: 'x' });
    const [answer] = findAgain(
      [lost],
      [file('In/a.mp3', { audioHash: 'x' }), file('New/Soul/a.mp3', { audioHash: 'x' })],
    );
    expect(answer!.found!.at).toBe(1);
    expect(answer!.candidates.map((c) => c.at)).toEqual([1, 0]);
  });
});

test('no file is found twice, and what is found has what speaks for it', () => {
  const any = fc.record({
    path: fc.constantFrom('a.mp3', 'b.mp3', 'x/a.mp3', 'x/b.flac'),
    size: fc.constantFrom(1, 2, null),
    audioHash: fc.constantFrom('p', 'q', 'r', null),
    durationSeconds: fc.constantFrom(100, 100.1, 220, null),
    artist: fc.constantFrom('', 'K'),
    title: fc.constantFrom('', 'T', 'U'),
    version: fc.constantFrom('', 'Dub'),
    fingerprint: fc.constant(null),
  });
  fc.assert(
    fc.property(fc.array(any, { maxLength: 8 }), fc.array(any, { maxLength: 8 }), (lost, files) => {
      const answers = findAgain(lost, files);
      const taken = answers.flatMap((a) => a.found?.at ?? []);
      expect(new Set(taken).size).toBe(taken.length);
      answers.forEach((answer, i) => {
        if (!answer.found) return;
        expect(answer.candidates).toContainEqual(answer.found);
        const { audioHash } = lost[i]!,
          other = files[answer.found.at]!.audioHash;
        if (audioHash !== null && other !== null && audioHash !== other)
          expect(['name and length', 'tags and length']).toContain(answer.found.by);
      });
    }),
  );
});

test('the index names what shares words at one place, and forgets chance', () => {
  const files = [print(1), null, worn(print(3), 0.08, 30), print(4)];
  const index = soundIndex(files);
  expect(index.near(print(3), 5)).toEqual([2]);
  expect(index.near(print(9), 5)).toEqual([]);
  expect(soundIndex(files, 4).near(print(3), 5)).toEqual([2]);
});

test('folders are compared from the end, whatever slashes and case', () => {
  expect(sharedTail('D:\\Music\\Soul\\A.mp3', '/x/soul/a.MP3')).toBe(2);
  expect(sharedTail('a.mp3', 'b.mp3')).toBe(0);
});

test('marks move with the sound; what lies before its beginning now is left out, loops are cut', () => {
  const marks = JSON.stringify([{ at: 1 }, { at: 1.5, end: 4, name: 'in' }, { at: 10 }]);
  expect(shiftMarks({ cues: marks, title: 'T' }, -2)).toEqual([
    { field: 'cues', before: marks, after: JSON.stringify([{ at: 0, end: 2, name: 'in' }, { at: 8 }]) },
  ]);
  expect(shiftMarks({ cues: marks }, 0)).toEqual([]);
  expect(shiftMarks({ cues: JSON.stringify([{ at: 1 }]) }, -2)[0]!.after).toBeNull();
});
