/** Everything that is to be on a stick: sound, lists, the pictures of folders, and what each is made of. */
import type { TrackValues } from '../fields/values.ts';
import { listedTrack } from '../exchange/listedTrack.ts';
import { printOf } from '../exchange/print.ts';
import type { ListedTrack } from '../exchange/listFile.ts';
import { writeList } from '../exchange/writeList.ts';
import { folderOf } from '../files/paths.ts';
import type { Mending } from '../playout/item.ts';
import type { PlayoutSystem } from '../playout/system.ts';
import { TAG_FIELDS } from '../tags/edit.ts';
import type { WantedFile } from './compare.ts';
import { layOut, type LayoutWish, type StickFile, type StickList, type StickTrack } from './layout.ts';
import type { Player } from './player.ts';
import { bytesFor, type Recipe } from './recipe.ts';

/** A track with all that its file on a stick is made of. */
export interface PlannedTrack extends StickTrack {
  /** Of its file, in bytes. */
  size: number;
  seconds: number | null;
  /** Says which sound it is, whatever its tags; null: nobody has worked it out. */
  audioHash: string | null;
  /** Of its cover, in the library. */
  cover: string | null;
  /** Fields that its file does not say yet, as texts. */
  unwritten: Readonly<Record<string, string[]>>;
}

export interface PlanWish extends LayoutWish {
  /** Lists are written as M3U8, with this Liquid template for the text of a line; null: none are. */
  line: string | null;
  /** True peak that levelling stays under, in dBTP. */
  ceilingDbtp: number;
}

/** What a file on a stick is made of. */
export type MadeOf =
  | {
      is: 'track';
      trackId: number;
      recipe: Recipe;
      cover: string | null;
      unwritten: PlannedTrack['unwritten'];
      ceilingDbtp: number;
    }
  | { is: 'item'; trackId: number; recipe: Recipe; values: TrackValues; system: PlayoutSystem }
  | { is: 'list'; text: string }
  | { is: 'picture'; cover: string; maxPixels: number };

export interface PlannedFile extends WantedFile {
  madeOf: MadeOf;
}

export interface Plan {
  files: PlannedFile[];
  /**
   * Each list with its files, in its order; those of several lists are in each of them. `file` is the path of its own,
   * where it has one.
   */
  lists: { listId: string; name: string; place: readonly string[]; file: string | null; files: StickFile[] }[];
  refused: Refused[];
}

/** A track that does not go there. */
export interface Refused {
  trackId: number;
  /** Why, in words. */
  reason: string;
  /** Where that is mended. */
  mend?: Mending;
}

/** Why nothing can be planned. */
export class PlanError extends Error {
  override name = 'PlanError';
}

/**
 * Plans a stick.
 * @param taken files that are there and not ours, below the stick
 * @throws RuleError, TemplateError for templates that cannot be used
 */
export function planStick(
  tracks: ReadonlyMap<number, PlannedTrack>,
  lists: readonly StickList[],
  wish: PlanWish,
  player: Player,
  taken: readonly string[] = [],
): Plan {
  const layout = layOut(tracks, lists, wish, player, taken);
  const files: PlannedFile[] = layout.files.map((file) => ofTrack(file, tracks.get(file.trackId)!, wish.ceilingDbtp));
  const plan: Plan = { files, lists: [], refused: layout.refused };
  for (const [at, { listId, path, files: own }] of layout.lists.entries()) {
    const { name, place } = lists[at]!;
    if (wish.line !== null) {
      const text = writeList(listed(own, tracks), 'm3u8', { paths: 'relative', folder: '', name, line: wish.line });
      files.push(ofText(path, text));
    }
    plan.lists.push({ listId, name, place, file: wish.line === null ? null : path, files: own });
  }
  if (player.picture) files.push(...pictures(layout.files, tracks, player.picture, taken));
  return plan;
}

function ofTrack({ path, recipe, trackId }: StickFile, track: PlannedTrack, ceilingDbtp: number): PlannedFile {
  const sound = [track.audioHash ?? `${track.size} bytes`, recipe.format, recipe.kbps, recipe.lufs];
  return {
    path,
    sound: printOf(JSON.stringify(recipe.lufs === null ? sound : [...sound, ceilingDbtp])),
    tags: printOf(JSON.stringify([tagsOf(track.values), track.cover])),
    bytes: bytesFor(recipe, track),
    madeOf: { is: 'track', trackId, recipe, cover: track.cover, unwritten: track.unwritten, ceilingDbtp },
  };
}

const tagsOf = (values: TrackValues): unknown[] => TAG_FIELDS.map(({ id }) => values[id] ?? null);

/** Texts change by what they say; they have no sound. */
export const ofText = (path: string, text: string): PlannedFile => ({
  path,
  sound: 'list',
  tags: printOf(text),
  bytes: new TextEncoder().encode(text).length,
  madeOf: { is: 'list', text },
});

const listed = (files: readonly StickFile[], tracks: ReadonlyMap<number, PlannedTrack>): ListedTrack[] =>
  files.map(({ path, trackId }, i) => listedTrack(`/${path}`, tracks.get(trackId)!.values, i + 1));

/** Each folder with sound gets the cover of its first file that has one, where nobody else has laid one there. */
function pictures(
  files: readonly StickFile[],
  tracks: ReadonlyMap<number, PlannedTrack>,
  { name, maxPixels }: NonNullable<Player['picture']>,
  taken: readonly string[],
): PlannedFile[] {
  const foreign = new Set(taken.map((path) => path.toLowerCase()));
  const covers = new Map<string, string>();
  for (const { path, trackId } of files) {
    const cover = tracks.get(trackId)!.cover;
    if (cover !== null && !covers.has(folderOf(path))) covers.set(folderOf(path), cover);
  }
  return [...covers].flatMap(([folder, cover]) => {
    const path = `${folder}${name}`;
    if (foreign.has(path.toLowerCase())) return [];
    return [
      {
        path,
        sound: 'picture',
        tags: `${cover} ${maxPixels}`,
        bytes: PICTURE_BYTES,
        madeOf: { is: 'picture' as const, cover, maxPixels },
      },
    ];
  });
}
/** Covers of that size take about so much as JPEG. */
const PICTURE_BYTES = 60_000;
