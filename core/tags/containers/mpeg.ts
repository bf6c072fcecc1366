/** MP3 and other MPEG audio: ID3v2 tags in a row, the sound, then perhaps an APE tag and ID3v1. */
import { apeSpan, openApe } from '../kinds/ape.ts';
import { TagTrouble, tidySplices, type Source, type Splice } from '../bytes.ts';
import { id3Length, openId3, type Id3Tag } from '../kinds/id3.ts';
import { openAnyId3 } from '../kinds/id3v22.ts';
import { ID3V1_LENGTH, isId3v1, openId3v1 } from '../kinds/id3v1.ts';
import type { Container, TagSet } from '../tagSet.ts';

/** How far behind the tags the first frame of the sound may begin. */
const REACH = 1 << 16;

/** Where two frames that fit together begin, from an offset on; −1 when there are none. */
function firstFrame(bytes: Uint8Array): number {
  for (let i = 0; i + 4 <= bytes.length; i++) {
    const length = frameLength(bytes, i);
    if (length > 0 && (i + length + 4 > bytes.length || frameLength(bytes, i + length) > 0)) return i;
  }
  return -1;
}

const RATES = [44_100, 48_000, 32_000];
/** kbit/s by layer and version (ISO/IEC 11172-3 and 13818-3). */
const BITRATES: Record<string, number[]> = {
  '1-1': [32, 64, 96, 128, 160, 192, 224, 256, 288, 320, 352, 384, 416, 448],
  '1-2': [32, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 384],
  '1-3': [32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  '2-1': [32, 48, 56, 64, 80, 96, 112, 128, 144, 160, 176, 192, 224, 256],
  '2-2': [8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
  '2-3': [8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
};

function frameLength(b: Uint8Array, at: number): number {
  if (b[at] !== 0xff || (b[at + 1]! & 0xe0) !== 0xe0) return 0;
  const version = (b[at + 1]! >> 3) & 3,
    layer = 4 - ((b[at + 1]! >> 1) & 3),
    rate = RATES[(b[at + 2]! >> 2) & 3];
  const kbit = BITRATES[`${version === 3 ? 1 : 2}-${layer}`]?.[(b[at + 2]! >> 4) - 1];
  if (version === 1 || layer === 4 || rate === undefined || kbit === undefined) return 0;
  const hz = rate / (version === 3 ? 1 : version === 2 ? 2 : 4),
    padding = (b[at + 2]! >> 1) & 1;
  if (layer === 1) return (Math.floor((12_000 * kbit) / hz) + padding) * 4;
  return Math.floor(((layer === 3 && version !== 3 ? 72_000 : 144_000) * kbit) / hz) + padding;
}

/** Takes an MPEG audio file apart. @throws TagTrouble when there is no sound where it has to be */
export function openMpeg(source: Source, newVersion: 3 | 4): Container {
  const fronts: { at: number; length: number; tag: Id3Tag }[] = [];
  let from = 0;
  for (let length = id3Length(source, 0); length > 0; length = id3Length(source, from)) {
    if (from + length > source.size) throw new TagTrouble('Its ID3 tag says it is longer than the file');
    fronts.push({ at: from, length, tag: openAnyId3(source.read(from, length)) });
    from += length;
  }
  let to = source.size;
  const ends: { at: number; length: number; set: TagSet & { render(): Uint8Array } }[] = [];
  if (to - from >= ID3V1_LENGTH && isId3v1(source.read(to - ID3V1_LENGTH, ID3V1_LENGTH))) {
    to -= ID3V1_LENGTH;
    ends.push({ at: to, length: ID3V1_LENGTH, set: openId3v1(source.read(to, ID3V1_LENGTH)) });
  }
  const ape = apeSpan(source, to);
  if (ape && ape.from >= from) {
    ends.unshift({ at: ape.from, length: ape.to - ape.from, set: openApe(source.read(ape.from, ape.to - ape.from)) });
    to = ape.from;
  }
  if (firstFrame(source.read(from, Math.min(REACH, to - from))) < 0)
    throw new TagTrouble('No MPEG audio is found behind its tags');
  const made = fronts.length === 0 ? openId3(null, newVersion) : null;
  return {
    label: 'MP3',
    sets: [...(made ? [made] : fronts.map((f) => f.tag)), ...ends.map((e) => e.set)],
    audio: [{ from, to }],
    splices() {
      const out: Splice[] = fronts
        .filter((f) => f.tag.changed)
        .map((f) => ({ at: f.at, remove: f.length, insert: f.tag.render() }));
      if (made && made.frameCount > 0) out.push({ at: 0, remove: 0, insert: made.render() });
      for (const { at, length, set } of ends) out.push({ at, remove: length, insert: set.render() });
      return tidySplices(source, out);
    },
  };
}
