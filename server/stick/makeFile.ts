/** One file for a stick or a folder, made in a place of its own: the sound as the recipe says, the tags as wished. */
import { copyFileSync, rmSync, statSync } from 'node:fs';
import { extname } from 'node:path';
import type { Levelled } from '@early-set/core/level/level';
import { TARGETS } from '@early-set/core/stick/player';
import type { Recipe } from '@early-set/core/stick/recipe';
import { TagTrouble } from '@early-set/core/tags/bytes';
import { editTags, fieldsIn, openTags, pictureIn, type Picture, type TagEdits } from '@early-set/core/tags/edit';
import { identityOf, sameIdentity } from '../files/place.ts';
import { withSource, writeTags } from '../files/tagFile.ts';
import { convertFile } from '../media/convert.ts';

export interface MakeWish {
  source: string;
  /** Where it is made when it has to be; without an ending. */
  scratch: string;
  recipe: Recipe;
  /** Fields of the library as texts, by id; none takes the field out. Others stay as the source has them. */
  fields: TagEdits['fields'];
  /** The front cover, where it is another one than in the source. */
  picture?: Picture | null;
  /** For what is levelled, in dBTP. */
  ceilingDbtp: number;
}

export interface MadeFile {
  /** What is to be copied to where it is wanted: the source itself, where nothing about it has to change. */
  path: string;
  size: number;
  modifiedMs: number;
  levelled: Levelled | null;
}

/** @throws what stands in the way, with a sentence; the source is never touched */
export const makeFile = (wish: MakeWish, signal?: AbortSignal): Promise<MadeFile> =>
  fromOne(wish.source, () => makeFrom(wish, signal));

/** Makes something of a file, which has to be the same all the while. @throws RangeError where it was not */
export async function fromOne(source: string, make: () => Promise<MadeFile>): Promise<MadeFile> {
  const was = identityOf(statSync(source));
  const made = await make();
  if (sameIdentity(identityOf(statSync(source)), was)) return made;
  if (made.path !== source) rmSync(made.path, { force: true });
  throw new RangeError('The file was changed by something else meanwhile');
}

async function makeFrom(wish: MakeWish, signal: AbortSignal | undefined): Promise<MadeFile> {
  const { source, recipe, fields, picture } = wish;
  const { format, kbps, lufs } = recipe;
  const edits: TagEdits = { fields, ...(picture === undefined ? {} : { picture }) };
  if (format === null) {
    if (saysAll(source, edits)) return madeAt(source, null);
    const copy = `${wish.scratch}${extname(source)}`;
    copyFileSync(source, copy);
    writeTags(copy, edits);
    return madeAt(copy, null);
  }
  const to = `${wish.scratch}${TARGETS[format].ending}`;
  const level = lufs === null ? null : { lufs, ceilingDbtp: wish.ceilingDbtp };
  const levelled = await convertFile({ source, to, format, kbps, level, sampleRate: null }, signal);
  const own = ownTags(source);
  const cover = picture === undefined ? own.picture : picture;
  writeTags(to, { fields: { ...own.fields, ...fields }, ...(cover ? { picture: cover } : {}) });
  return madeAt(to, levelled);
}

export function madeAt(path: string, levelled: Levelled | null): MadeFile {
  const { size, mtimeMs } = statSync(path);
  return { path, size, modifiedMs: mtimeMs, levelled };
}

/** Is nothing to be changed? */
function saysAll(source: string, edits: TagEdits): boolean {
  if (Object.keys(edits.fields).length === 0 && edits.picture === undefined) return true;
  return withSource(source, (bytes) => editTags(bytes, edits).length === 0);
}

/** All fields and the cover of a file; none where its tags cannot be read. */
function ownTags(source: string): { fields: Record<string, string[]>; picture: Picture | null } {
  try {
    return withSource(source, (bytes) => {
      const container = openTags(bytes);
      return { fields: fieldsIn(container), picture: pictureIn(container) };
    });
  } catch (error) {
    if (error instanceof TagTrouble) return { fields: {}, picture: null };
    throw error;
  }
}
