/**
 * Fields in files: which of them a file's tags hold, and what has to change in the file for other values. The names
 * under which each kind of tag holds a field are those of the one field table.
 */
import { FIELDS, fieldOf, type Field } from '../fields/table.ts';
import { latin1, TagTrouble, type Source, type Splice } from './bytes.ts';
import { openFlac } from './containers/flac.ts';
import { openIff } from './containers/iff.ts';
import { id3Length } from './kinds/id3.ts';
import { openMp4 } from './containers/mp4.ts';
import { openMpeg } from './containers/mpeg.ts';
import { openOgg } from './containers/ogg.ts';
import { holdsField, spelled, unspelled } from './spelling.ts';
import type { Container, Picture } from './tagSet.ts';

export type { Picture } from './tagSet.ts';

export interface TagEdits {
  /** Field id to its new texts; none takes the field out of the file. */
  fields: Readonly<Record<string, readonly string[]>>;
  /** The front cover; null takes it out, undefined leaves it. */
  picture?: Picture | null;
}

export interface TagOptions {
  /** For a file that has no ID3 tag yet. */
  newId3Version?: 3 | 4;
}

/**
 * How other kinds of files begin. What looks like MPEG audio somewhere inside of them is none, and nothing may be put
 * in front of them: Matroska, ASF, other RIFF, MPEG program streams and video, Monkey's Audio, WavPack, Musepack, True
 * Audio, CAF, DSF, Sun audio, AMR, AC-3.
 */
const OTHER_KINDS =
  /^(?:\x1aE\xdf\xa3|0&\xb2u|RIFF|\0\0\x01[\xba\xb3]|MAC |wvpk|MPCK|MP\+|TTA1|caff|DSD |\.snd|#!AMR|\x0bw)/;

/** Takes a file apart by what its first bytes say. @throws TagTrouble with the reason why its tags cannot be changed */
export function openTags(source: Source, { newId3Version = 4 }: TagOptions = {}): Container {
  if (source.size < 16) throw new TagTrouble('The file is too short to be sound');
  const head = source.read(0, 12);
  const four = latin1(head.subarray(0, 4)),
    kind = latin1(head.subarray(8, 12));
  if (/^(RIFF|RF64|BW64)$/.test(four) && kind === 'WAVE') return openIff(source, newId3Version);
  if (four === 'FORM' && /^AIF[FC]$/.test(kind)) return openIff(source, newId3Version);
  if (four === 'OggS') return openOgg(source);
  if (latin1(head.subarray(4, 8)) === 'ftyp') return openMp4(source);
  let behind = 0;
  for (
    let length = id3Length(source, 0);
    length > 0 && behind + length < source.size;
    length = id3Length(source, behind)
  )
    behind += length;
  const sound = latin1(source.read(behind, Math.min(8, source.size - behind)));
  if (sound.startsWith('fLaC')) return openFlac(source);
  if (OTHER_KINDS.test(sound)) throw new TagTrouble('Tags in files of this kind cannot be changed');
  return openMpeg(source, newId3Version);
}

/** Fields that some tag has a place for, in the order of the table. */
export const TAG_FIELDS: readonly Field[] = FIELDS.filter((f) => Object.keys(f.tags).length > 0);

/** What the tags of a file hold, field by field, as texts. */
export function fieldsIn(container: Container): Record<string, string[]> {
  const out: Record<string, string[]> = {};
  for (const field of TAG_FIELDS) {
    for (const set of container.sets) {
      const found = (field.tags[set.family] ?? [])
        .map((name) => set.get(name)?.map((t) => unspelled(field, name, t)))
        .find((texts) => texts?.some((t) => t.trim() !== ''));
      if (found) {
        out[field.id] = found;
        break;
      }
    }
  }
  return out;
}

/** The front cover that counts; null when there is none. */
export const pictureIn = (container: Container): Picture | null =>
  container.sets.map((set) => set.picture?.() ?? null).find((p) => p !== null) ?? null;

/**
 * Sets fields and the front cover in a file that was taken apart. Tags that hold a field already are all changed;
 * where none does, the one that counts gets it. What is said already is not written again.
 * @throws TagTrouble for a value that cannot be, RangeError for a field that tags do not hold
 */
export function setTags(container: Container, { fields, picture }: TagEdits): void {
  for (const [id, texts] of Object.entries(fields)) setField(container, id, texts);
  if (picture === undefined) return;
  const holder = container.sets.find((s) => s.setPicture);
  if (!holder && picture) throw new TagTrouble(`${container.label} files hold no picture`);
  if (picture || pictureIn(container)) holder?.setPicture!(picture);
}

/** What has to change in a file for other values. @throws as openTags and setTags do */
export function editTags(source: Source, edits: TagEdits, options: TagOptions = {}): Splice[] {
  const container = openTags(source, options);
  setTags(container, edits);
  return container.splices();
}

function setField(container: Container, id: string, texts: readonly string[]): void {
  const field = fieldOf(id);
  if (!TAG_FIELDS.includes(field)) throw new RangeError(`Tags do not hold "${field.label}"`);
  const wanted = texts.map((t) => t.trim()).filter(Boolean);
  container.sets.forEach((set, rank) => {
    const names = field.tags[set.family] ?? [];
    const there = names.filter((name) => {
      const texts = set.get(name);
      return texts !== null && holdsField(field, name, texts);
    });
    // A list of texts that a WAV has already is kept as full as the tag that counts: many programs read nothing else.
    const fresh =
      (rank === 0 || set.family === 'riff') && there.length === 0 && wanted.length > 0 ? set.place(names) : null;
    // Of several comments the one that is shown is changed; only an empty field takes all of them away.
    const shown = field.firstOnly && wanted.length > 0 ? there.slice(0, 1) : there;
    for (const name of fresh ? [fresh] : shown) {
      const old = set.get(name) ?? [];
      const rest = field.firstOnly && wanted.length > 0 ? old.slice(1) : [];
      const said = [...spelled(field, name, wanted, old), ...rest];
      if (said.length !== old.length || said.some((t, i) => t !== old[i])) set.set(name, said);
    }
  });
}
