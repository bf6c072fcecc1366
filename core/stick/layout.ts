/** Where every file of a stick lies and what it is called, so that the player shows all of them in their order. */
import type { TrackValues } from '../fields/values.ts';
import { endingOf, folderOf, nameOf } from '../files/paths.ts';
import { namer, type NamingRule } from '../naming/naming.ts';
import {
  cutCharacters,
  DEFAULT_NAME_OPTIONS,
  MAX_NAME_BYTES,
  safeName,
  type NameOptions,
} from '../naming/safeNames.ts';
import type { Player } from './player.ts';
import { endingFor, recipeFor, type ConvertWish, type Recipe, type Source } from './recipe.ts';

export interface StickTrack extends Source {
  id: number;
  values: TrackValues;
  /** Its sound cannot be read: nobody could play it. */
  broken?: boolean;
}
export interface StickList {
  id: string;
  name: string;
  /** Names of what it lies in, the topmost first. */
  place: readonly string[];
  trackIds: readonly number[];
}

export interface LayoutWish {
  /** Liquid: folders and name, with slashes between, without the ending. */
  names: string;
  accents: NameOptions['accents'];
  convert: ConvertWish;
}

export interface StickFile {
  /** Below the stick, with forward slashes. */
  path: string;
  trackId: number;
  recipe: Recipe;
  /** Its name was longer than the player shows. */
  cut: boolean;
}
export interface Layout {
  files: StickFile[];
  /** Each with its files in order; `path` is that of the list, at the top of the stick. */
  lists: { listId: string; path: string; files: StickFile[] }[];
  /** Tracks that do not go there, and why. */
  refused: { trackId: number; reason: string }[];
}

/** FAT and most others tell no case apart. */
export const sameName = (path: string): string => path.normalize('NFC').toLowerCase();

/**
 * Lays everything out.
 * @param taken files that are there and not ours, below the stick: their names are left to them
 * @throws RuleError for a template that cannot be used
 */
export function layOut(
  tracks: ReadonlyMap<number, StickTrack>,
  lists: readonly StickList[],
  { names, accents, convert }: LayoutWish,
  player: Player,
  taken: readonly string[] = [],
): Layout {
  const options: NameOptions = { ...DEFAULT_NAME_OPTIONS, accents, maxBytes: MAX_NAME_BYTES };
  const rule: NamingRule = { id: 'stick', name: 'Names on the stick', where: null, template: names, on: true };
  const nameFor = namer({ rules: [rule], options });
  const layout: Layout = { files: [], lists: [], refused: [] };
  const places = new Places(player, taken);
  const refused = new Set<number>();
  const refuse = (trackId: number, reason: string): void => {
    if (!refused.has(trackId)) layout.refused.push({ trackId, reason });
    refused.add(trackId);
  };
  const made = new Map<string, StickFile>();
  for (const list of lists) {
    const files: StickFile[] = [];
    for (const trackId of list.trackIds) {
      const track = tracks.get(trackId),
        recipe = track && recipeFor(track, player, convert);
      if (!track || !recipe) {
        refuse(trackId, track ? 'the player does not play what comes of it' : 'its file is not there');
        continue;
      }
      if (track.broken) {
        refuse(trackId, 'its sound cannot be read');
        continue;
      }
      const path = `x${endingFor(recipe, track)}`;
      const wanted = nameFor({ path, values: track.values, root: '', lists: [list.name], place: list.place });
      if ('trouble' in wanted) {
        refuse(trackId, wanted.trouble);
        continue;
      }
      // A name that says neither list nor number is one file for all lists.
      const key = `${trackId}\n${wanted.path}`;
      const file = made.get(key) ?? { trackId, recipe, ...places.take(wanted.path) };
      if (!made.has(key)) layout.files.push(file);
      made.set(key, file);
      files.push(file);
    }
    const own = safeName([...list.place, list.name].join(' - '), '.m3u8', options) ?? 'List.m3u8';
    layout.lists.push({ listId: list.id, path: places.take(own).path, files });
  }
  return layout;
}

/** Names that are given away, each once; folders that are full go on in a further one. */
class Places {
  readonly #taken: Set<string>;
  readonly #player: Player;
  readonly #counts = new Map<string, number>();
  /** Folders as they were spelt first. */
  readonly #spelt = new Map<string, string>();

  constructor(player: Player, taken: readonly string[]) {
    this.#player = player;
    this.#taken = new Set(taken.map(sameName));
    for (const path of taken) this.#count(folderOf(path));
  }

  take(wanted: string): { path: string; cut: boolean } {
    const most = this.#player.maxName - endingOf(wanted).length;
    const folder = this.#roomIn(folderOf(wanted).split('/').filter(Boolean));
    for (let n = 1; ; n++) {
      const behind = n === 1 ? '' : ` ${n}`;
      const name = cutCharacters(nameOf(wanted), most - behind.length);
      const path = `${folder}${name}${behind}${endingOf(wanted)}`;
      if (this.#taken.has(sameName(path))) continue;
      this.#taken.add(sameName(path));
      this.#count(folder);
      return { path, cut: name.length < nameOf(wanted).length };
    }
  }

  #count(folder: string): void {
    const key = sameName(folder);
    this.#counts.set(key, (this.#counts.get(key) ?? 0) + 1);
  }

  /** A folder with room for one more file, with a slash behind; '' is the stick itself. */
  #roomIn(parts: readonly string[]): string {
    const { filesAFolder, picture, maxName } = this.#player;
    const most = filesAFolder === null ? Infinity : filesAFolder - (picture ? 1 : 0);
    const above = parts.slice(0, -1).reduce((folder, part) => this.#within(folder, cutCharacters(part, maxName)), '');
    const last = parts.at(-1);
    for (let n = 1; ; n++) {
      const behind = n === 1 ? '' : ` ${n}`;
      // What has no room on the stick itself goes on in "More", of "House" in "House 2".
      const name =
        last === undefined
          ? `More${n === 2 ? '' : ` ${n - 1}`}`
          : cutCharacters(last, maxName - behind.length) + behind;
      const folder = last === undefined && n === 1 ? '' : this.#within(above, name);
      if ((this.#counts.get(sameName(folder)) ?? 0) < most) return folder;
    }
  }

  /** A folder in another, as it was spelt first. */
  #within(folder: string, name: string): string {
    const path = `${folder}${name}/`,
      spelt = this.#spelt.get(sameName(path)) ?? path;
    this.#spelt.set(sameName(path), spelt);
    return spelt;
  }
}
