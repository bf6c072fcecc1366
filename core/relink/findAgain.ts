/**
 * Files that cannot be found, found again among others: by their sound byte for byte, by name and size, by what they
 * sound like, by names and lengths. Where sound can be compared it decides; a name alone ties nothing.
 */
import { compareFingerprints, type FingerprintMatch } from '../analysis/fingerprint.ts';
import { fold } from '../fields/fold.ts';
import type { Candidate, FileFacts, FoundAgain, FoundBy, Other } from './facts.ts';
import { nameKeyOf, sharedTail, stemKeyOf } from './likePath.ts';
import { soundIndex, type SoundIndex } from './soundIndex.ts';

/** Lengths that differ by no more are one length, in seconds: encoders add up to a frame or two at either end. */
const SAME_LENGTH = 0.15;
/** So much may be missing at either end of the same recording. */
const MAX_MISSING = 10;
/** The same recording, however encoded, has at least this share of equal bits, and of windows that are alike. */
export const EQUAL_BITS = 0.86,
  SAME_SHARE = 0.9;
/** From here on something is proposed. */
const SURE_ENOUGH = 0.75;
/** Of files that could be it every so-manieth word is looked up: of hundreds that are enough. */
const INDEXED = 4;
/** So many files that sound most alike are compared. */
const MAX_ALIKE = 8;

const SURE: Record<FoundBy, number> = {
  'same sound, byte for byte': 1,
  'name and size': 0.97,
  sound: 0.95,
  'name and length': 0.85,
  'tags and length': 0.8,
};

/** Files by a key; those without are left out. */
function byKey<T>(files: readonly FileFacts[], keyOf: (file: FileFacts) => T | null): ReadonlyMap<T, number[]> {
  const map = new Map<T, number[]>();
  for (const [at, file] of files.entries()) {
    const key = keyOf(file);
    if (key === null) continue;
    const there = map.get(key);
    if (there) there.push(at);
    else map.set(key, [at]);
  }
  return map;
}

/** Artist, title and version as one text; null where the title is not known. */
function tagKey({ artist, title, version }: FileFacts): string | null {
  return title.trim() === '' ? null : [artist, title, version].map(fold).join('\u0001');
}

const sameLength = (a: FileFacts, b: FileFacts): boolean =>
  a.durationSeconds !== null &&
  b.durationSeconds !== null &&
  Math.abs(a.durationSeconds - b.durationSeconds) <= SAME_LENGTH;

export type Verdict = { candidate: Omit<Candidate, 'at'> } | { other: Other['why'] } | null;

/** What a file is to one that is looked for; null: nothing speaks for it. */
export function judgeFile(lost: FileFacts, file: FileFacts): Verdict {
  const tie = (by: FoundBy, offsetSeconds = 0): Verdict => ({ candidate: { by, sure: SURE[by], offsetSeconds } });
  if (lost.audioHash !== null && file.audioHash !== null && lost.audioHash === file.audioHash)
    return tie('same sound, byte for byte');
  const isNamed = nameKeyOf(lost.path) === nameKeyOf(file.path);
  const hashesDiffer = lost.audioHash !== null && file.audioHash !== null;
  if (!hashesDiffer && isNamed && lost.size !== null && lost.size === file.size) return tie('name and size');
  if (lost.fingerprint && file.fingerprint) return bySound(lost, file, tie);
  const isNamedAlike = isNamed || stemKeyOf(lost.path) === stemKeyOf(file.path);
  const tags = tagKey(lost);
  const isTagged = tags !== null && tags === tagKey(file);
  if (!isNamedAlike && !isTagged) return null;
  if (!sameLength(lost, file)) return { other: 'another length' };
  return tie(isNamedAlike ? 'name and length' : 'tags and length');
}

function bySound(lost: FileFacts, file: FileFacts, tie: (by: FoundBy, offset: number) => Verdict): Verdict {
  const match = compareFingerprints(lost.fingerprint!, file.fingerprint!);
  const looksLike =
    stemKeyOf(lost.path) === stemKeyOf(file.path) || (tagKey(lost) !== null && tagKey(lost) === tagKey(file));
  if (!match || !soundsSame(match)) return looksLike ? { other: 'another recording' } : null;
  const { durationSeconds: was } = lost,
    { durationSeconds: is } = file;
  // What begins later by the offset may also end earlier.
  if (was !== null && is !== null && Math.abs(is - was) > MAX_MISSING) return { other: 'another length' };
  return tie('sound', -match.offsetSeconds);
}

const soundsSame = ({ equalBits, sameShare }: FingerprintMatch): boolean =>
  equalBits >= EQUAL_BITS && sameShare >= SAME_SHARE;

/**
 * Finds files again. No file is found twice: of two that are looked for, the one that is surer has it.
 * @param files what could be them
 */
export function findAgain(lost: readonly FileFacts[], files: readonly FileFacts[]): FoundAgain[] {
  const byHash = byKey(files, (f) => f.audioHash),
    byStem = byKey(files, (f) => stemKeyOf(f.path)),
    byTags = byKey(files, tagKey);
  let sounds: SoundIndex | null = null;
  const looked = lost.map((one): FoundAgain => {
    // The very same sound needs no other witness.
    const same = one.audioHash === null ? [] : (byHash.get(one.audioHash) ?? []);
    if (same.length > 0) return sorted(one, files, new Set(same));
    const near = new Set([...(byStem.get(stemKeyOf(one.path)) ?? []), ...(byTags.get(tagKey(one) ?? '\u0000') ?? [])]);
    const answer = sorted(one, files, near);
    if (answer.candidates[0] || !one.fingerprint) return answer;
    sounds ??= soundIndex(
      files.map((f) => f.fingerprint),
      INDEXED,
    );
    return sorted(one, files, new Set([...near, ...sounds.near(one.fingerprint, MAX_ALIKE)]));
  });
  return settled(looked);
}

function sorted(lost: FileFacts, files: readonly FileFacts[], near: ReadonlySet<number>): FoundAgain {
  const candidates: Candidate[] = [],
    others: Other[] = [];
  for (const at of near) {
    const verdict = judgeFile(lost, files[at]!);
    if (!verdict) continue;
    if ('candidate' in verdict) candidates.push({ at, ...verdict.candidate });
    else others.push({ at, why: verdict.other });
  }
  const tail = new Map(candidates.map((c) => [c.at, sharedTail(lost.path, files[c.at]!.path)]));
  candidates.sort((a, b) => b.sure - a.sure || tail.get(b.at)! - tail.get(a.at)! || a.at - b.at);
  return { found: null, candidates, others };
}

/** Gives each what is likeliest, the surest first. */
function settled(looked: readonly FoundAgain[]): FoundAgain[] {
  const wishes = looked
    .flatMap(({ candidates }, lost) => candidates.map((candidate, rank) => ({ lost, candidate, rank })))
    .filter(({ candidate }) => candidate.sure >= SURE_ENOUGH)
    .sort((a, b) => b.candidate.sure - a.candidate.sure || a.rank - b.rank || a.lost - b.lost);
  const taken = new Set<number>();
  const found = new Map<number, Candidate>();
  for (const { lost, candidate } of wishes) {
    if (found.has(lost) || taken.has(candidate.at)) continue;
    found.set(lost, candidate);
    taken.add(candidate.at);
  }
  return looked.map((one, lost) => ({ ...one, found: found.get(lost) ?? null }));
}
