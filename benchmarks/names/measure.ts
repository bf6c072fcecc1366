/** How well fields are found in file names: a folder per habit, groups and fields compared with what was written. */
import { nameGroups } from '@early-set/core/clean/fileNames';
import { needsLook, type Meaning } from '@early-set/core/clean/nameGroup';
import { knownNames, nameKey, NOBODY } from '@early-set/core/clean/known';
import { fieldsOfName } from '@early-set/core/clean/nameFields';
import { HABITS } from './habits.ts';
import type { Habit } from './spelling.ts';
import { knownOf, MIXED, namesOf, NAMES_A_HABIT, type MixedFolder } from './mixed.ts';
import { KNOWN, songsFor, type Song } from './songs.ts';

export interface HabitScore {
  habit: Habit;
  heldBack: boolean;
  group: boolean;
  fieldsRight: number;
  fields: number;
  said: string;
  wanted: string;
}

export interface MixedScore {
  name: string;
  heldBack: boolean;
  fields: number;
  right: number;
  /** Fields of patterns that are marked as unsure, right or not. */
  unsure: number;
  /** Wrong, and not marked. */
  wrong: number;
  /** A first wrong one. */
  said: string;
}

/** Mixed folders, field by field as they would be applied; every other one is held back. */
export function measureMixed(seeds: readonly number[], folders: readonly MixedFolder[] = MIXED): MixedScore[] {
  return folders.map((folder, f) => {
    const score: MixedScore = {
      name: folder.name,
      heldBack: f % 2 === 1,
      fields: 0,
      right: 0,
      unsure: 0,
      wrong: 0,
      said: '',
    };
    const names = knownNames(knownOf(KNOWN, folder.known).map((a) => [a, 3] as const));
    for (const seed of seeds) {
      const given = namesOf(folder, songsFor('loose', seed + f, folder.forms.length * NAMES_A_HABIT));
      const files = given.map(({ name }, id) => ({ id, rootId: 1, path: `Mixed/${name}.mp3` }));
      for (const group of nameGroups(files, { separators: 'loose', folders: false }, names))
        for (const member of group.members) {
          const { song, of } = given[member.id]!,
            said = fieldsOfName(member.parts, group.pattern, names);
          for (const [field, expected] of Object.entries(of.says) as [string, (s: Song) => string | number][]) {
            const wanted = expected(song);
            const right = nameKey(String(said[field] ?? '')) === nameKey(String(wanted));
            score.fields++;
            if (right) score.right++;
            if (needsLook(group)) score.unsure++;
            else if (!right) {
              score.wrong++;
              score.said ||= `${field} of "${member.stem}": "${said[field] ?? ''}" (${group.pattern.join(' · ')}, ${group.reason})`;
            }
          }
        }
    }
    return score;
  });
}

/** Every third habit is held back: it was never looked at while the rules were made. */
export function measureHabits(seeds: readonly number[]): HabitScore[] {
  const names = knownNames(KNOWN.map((a) => [a, 3] as const));
  return HABITS.map((habit, h) => {
    let right = 0,
      fields = 0,
      whole = true,
      said = '',
      wanted = '';
    for (const seed of seeds) {
      const songs = songsFor(habit.songs, seed + h);
      const files = songs.map((s, i) => ({ id: i, rootId: 1, path: `${habit.folder}/${habit.write(s)}.mp3` }));
      const groups = nameGroups(files, { separators: 'loose', folders: false }, habit.known === false ? NOBODY : names);
      if (groups.length !== 1) {
        whole = false;
        said ||= `${groups.length} groups: ${groups.map((g) => g.pattern.join(' · ')).join(' / ')}`;
      }
      for (const group of groups) {
        for (const member of group.members) {
          for (const [meaning, of] of Object.entries(habit.says) as [Meaning, NonNullable<Habit['says'][Meaning]>][]) {
            const expected = String(of(songs[member.id]!)),
              at = group.pattern.indexOf(meaning),
              text = at < 0 ? '' : member.parts[at]!;
            const ok = meaning === 'trackNumber' ? Number(text) === Number(expected) : text === expected;
            fields++;
            if (ok) right++;
            else if (!said) {
              said = `${meaning}: "${text}" (${group.pattern.join(' · ')})`;
              wanted = expected;
            }
          }
        }
      }
    }
    return { habit, heldBack: h % 3 === 2, group: whole, fieldsRight: right, fields, said, wanted };
  });
}
