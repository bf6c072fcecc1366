/** How well fields are found in file names: a folder per habit, groups and fields compared with what was written. */
import { nameGroups, type Meaning } from '@early-set/core/clean/fileNames';
import { knownNames, NOBODY } from '@early-set/core/clean/known';
import { HABITS } from './habits.ts';
import type { Habit } from './spelling.ts';
import { KNOWN, songsFor } from './songs.ts';

export interface HabitScore {
  habit: Habit;
  heldBack: boolean;
  group: boolean;
  fieldsRight: number;
  fields: number;
  said: string;
  wanted: string;
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
