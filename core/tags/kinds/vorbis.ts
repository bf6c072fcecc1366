/** Vorbis comments (Vorbis I specification, section 5): NAME=text, in order, names in any case. */
import { concat, le32, TagTrouble, toUtf8, u32le, utf8Text } from '../bytes.ts';
import type { Picture, TagSet } from '../tagSet.ts';
import { base64Of, parseFlacPicture, pictureBlock, bytesOfBase64 } from './flacPicture.ts';

interface Comment {
  name: string;
  raw: Uint8Array;
}

export interface VorbisComments extends TagSet {
  /** Vendor and comments; what lay behind them in the bytes comes after. */
  render(): Uint8Array;
  /** What lay behind them. */
  rest: Uint8Array;
}

const PICTURE = 'METADATA_BLOCK_PICTURE';
const FRONT = 3;

/** Takes comments apart. @throws TagTrouble when their lengths do not add up */
export function openVorbis(bytes: Uint8Array, holdsPictures: boolean, opus = false): VorbisComments {
  let at = 0;
  const count = (): number => {
    if (at + 4 > bytes.length) throw new TagTrouble('Its comments end in the middle');
    at += 4;
    return u32le(bytes, at - 4);
  };
  const take = (length: number): Uint8Array => {
    if (at + length > bytes.length) throw new TagTrouble('A comment is longer than what holds it');
    at += length;
    return bytes.slice(at - length, at);
  };
  const vendor = take(count());
  let comments: Comment[] = [];
  for (let n = count(); n > 0; n--) {
    const raw = take(count());
    const equals = raw.indexOf(61);
    comments.push({ name: equals < 0 ? '' : utf8Text(raw.subarray(0, equals)).toUpperCase(), raw });
  }
  const rest = bytes.slice(at);
  const valueOf = (c: Comment): string => utf8Text(c.raw.subarray(c.raw.indexOf(61) + 1));
  const spelled = (c: Comment): string => utf8Text(c.raw.subarray(0, c.raw.indexOf(61)));
  /** New comments stand where the first of the old ones stood. */
  const replace = (old: (c: Comment) => boolean, made: Comment[]): void => {
    const first = comments.findIndex(old);
    comments =
      first < 0 ? [...comments, ...made] : comments.flatMap((c, i) => (i === first ? made : old(c) ? [] : [c]));
  };
  const pictureIn = (c: Comment) => (c.name === PICTURE ? parseFlacPicture(bytesOfBase64(valueOf(c))) : null);
  const set: VorbisComments = {
    rest,
    family: 'vorbis',
    label: 'Vorbis comments',
    // In Opus, gains are R128 gains (RFC 7845, 5.2.1).
    place: (names) => (opus ? names.find((n) => n.startsWith('R128_')) : undefined) ?? names[0] ?? null,
    get(name) {
      const found = comments.filter((c) => c.name === name.toUpperCase());
      return found.length ? found.map(valueOf) : null;
    },
    set(name, texts) {
      const upper = name.toUpperCase(),
        old = comments.find((c) => c.name === upper);
      const spelling = old ? spelled(old) : name;
      // What is said already stays as it is spelled, byte for byte and where it stands.
      const kept = comments.filter((c) => c.name === upper);
      const made = texts.map((t, i) =>
        kept[i] && valueOf(kept[i]) === t ? kept[i] : { name: upper, raw: toUtf8(`${spelling}=${t}`) },
      );
      if (made.length !== kept.length) {
        replace((c) => c.name === upper, made);
        return;
      }
      comments = comments.map((c) => made[kept.indexOf(c)] ?? c);
    },
    render: () =>
      concat([
        le32(vendor.length),
        vendor,
        le32(comments.length),
        ...comments.flatMap((c) => [le32(c.raw.length), c.raw]),
        rest,
      ]),
  };
  if (holdsPictures) {
    set.picture = () => {
      const found = comments.map(pictureIn).filter((p) => p !== null);
      return found.find((p) => p.type === FRONT) ?? found[0] ?? null;
    };
    set.setPicture = (picture: Picture | null) => {
      const all = comments.filter((c) => pictureIn(c) !== null);
      const target = all.find((c) => pictureIn(c)!.type === FRONT) ?? all[0];
      replace(
        (c) => c === target,
        picture ? [{ name: PICTURE, raw: toUtf8(`${PICTURE}=${base64Of(pictureBlock(picture))}`) }] : [],
      );
    };
  }
  return set;
}
